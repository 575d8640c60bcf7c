import { factWords } from '../../../../core/target/facts';
import type { Rows, Value, When } from '../../../../core/formats/own/schema';

// A description in words: what a file is made of, line by line, for people who read no schema.

export const ROW_WORDS: Readonly<Record<Rows['of'], string>> = {
  notes: 'note',
  strikes: 'strike',
  events: 'beginning and end of a note',
  tempos: 'tempo',
  meters: 'meter',
  changes: 'change of tempo, meter, key or marker',
  markers: 'marker',
  captions: 'caption',
  bars: 'bar',
  frames: 'frame',
  cells: 'cell of the grid',
  lanes: 'lane',
  controllers: 'controller',
  seats: 'seat',
  parts: 'part',
  channels: 'channel',
  phrases: 'phrase',
  rungs: 'rung',
};
const UNIT: Readonly<Record<string, string>> = {
  ticks: 'ticks',
  quarters: 'quarters',
  beats: 'beats',
  bars: 'bars with fractions',
  bar: 'bars',
  beat: 'beats of the bar',
  'tick-of-beat': 'ticks of the beat',
  hours: 'hours',
  minutes: 'minutes',
  seconds: 'seconds',
  ms: 'ms',
  us: 'microseconds',
  frames: 'frames',
};

/** When a value is meant, as the end of a sentence. */
export function sayWhen(when: When): string {
  const { seats, rungs, keys, flag, longerMs, shorterMs, parts, on } = when;
  const { longerQuarters, shorterQuarters, harder, softer } = when;
  const says: string[] = [];
  if (on !== undefined) says.push(on ? 'where a note begins' : 'where a note ends');
  if (seats) says.push(`of the seat ${seats.join(' or ')}`);
  if (parts) says.push(`of the part ${parts.join(' or ')}`);
  if (rungs) says.push(`of level ${rungs.join(' or ')}`);
  if (keys) says.push(`of key ${keys.join(' or ')}`);
  if (flag !== undefined) says.push(`with the flag ${flag}`);
  if (longerMs !== undefined) says.push(`from ${longerMs} ms on`);
  if (shorterMs !== undefined) says.push(`under ${shorterMs} ms`);
  if (longerQuarters !== undefined) says.push(`from ${longerQuarters} quarters on`);
  if (shorterQuarters !== undefined) says.push(`under ${shorterQuarters} quarters`);
  if (harder !== undefined) says.push(`from velocity ${harder} on`);
  if (softer !== undefined) says.push(`under velocity ${softer}`);
  return says.join(', ');
}

export function sayValue(v: Value): string {
  switch (v.is) {
    case 'time': {
      const unit =
        v.unit === 'frames'
          ? `frames at ${v.rate ?? 25} a second`
          : v.ppq
            ? `${UNIT[v.unit]} at PPQ ${v.ppq}`
            : UNIT[v.unit]!;
      const from =
        v.from === 'last'
          ? ' from the row before'
          : v.from === 'bar'
            ? ' from its bar'
            : v.from === 'hour' || v.from === 'minute' || v.from === 'second'
              ? ` of the ${v.from}`
              : '';
      const round = v.round && v.round !== 'nearest' ? `, rounded ${v.round}` : '';
      return `${v.of} in ${unit}${from}${v.decimals ? `, ${v.decimals} decimals` : ''}${round}`;
    }
    case 'key':
      return {
        number: v.from ? `semitones from ${v.from}` : 'note number',
        name: 'name of the note',
        index: `key in its list, from ${v.first ?? 0}`,
        lane: `lane, from ${v.first ?? 0}`,
        word: 'a word for the key',
        bits: 'a bit for each key',
      }[v.as];
    case 'velocity':
      return v.most === undefined && v.least === undefined
        ? `velocity${v.key === undefined ? '' : ` of key ${v.key}`}`
        : `velocity from ${v.least ?? 0} to ${v.most ?? 127}`;
    case 'joined':
      return v.parts.map((p) => (typeof p === 'string' ? `“${p}”` : sayValue(p))).join(' ');
    case 'list':
      return `of each ${ROW_WORDS[v.each.of]} ${v.parts
        .map((p) => (typeof p === 'string' ? `“${p}”` : sayValue(p)))
        .join(' ')}, “${v.between}” between`;
    case 'case':
      return `${v.cases.map((c) => `${sayValue(c.value)} ${sayWhen(c.when)}`).join(', ')}, else ${sayValue(v.otherwise)}`;
    case 'fact':
      return `the ${factWords(v.key)}`;
    case 'count':
      return `how many of each ${ROW_WORDS[v.of.of]}`;
    case 'constant':
      return `always “${String(v.value)}”`;
    case 'row-number':
      return `number of the row, from ${v.first ?? 0}`;
    case 'on-off':
      return `“${v.on}” or “${v.off}”`;
    case 'flags':
      return v.flag === undefined ? 'its flags' : `whether it has the flag ${v.flag}`;
    case 'struck':
      return `“${v.yes}” where a note begins, “${v.no}” where nothing sounds`;
    case 'checksum':
      return `${v.kind} of ${v.block}`;
    case 'offset':
      return `where ${v.block} begins`;
    case 'size':
      return `bytes of ${v.block}`;
    case 'bpm':
      return 'tempo in BPM';
    case 'us-per-quarter':
      return 'tempo in microseconds a quarter';
    default:
      return v.is.replaceAll('-', ' ');
  }
}
