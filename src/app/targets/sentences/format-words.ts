import { factWords } from '../../../core/target/facts';
import type { Container, OwnFile, Rows, Value } from '../../../core/formats/own/schema';

// A description in words: what a file is made of, line by line, for people who read no schema.

const ROWS: Readonly<Record<Rows['of'], string>> = {
  notes: 'note',
  strikes: 'strike',
  events: 'beginning and end of a note',
  tempos: 'tempo',
  meters: 'meter',
  markers: 'marker',
  captions: 'caption',
  bars: 'bar',
  frames: 'frame',
  cells: 'cell of the grid',
  lanes: 'lane',
  controllers: 'controller',
  seats: 'seat',
  parts: 'part',
  rungs: 'rung',
};
const UNIT: Readonly<Record<string, string>> = {
  ticks: 'ticks',
  quarters: 'quarters',
  beats: 'beats',
  bar: 'bars',
  beat: 'beats of the bar',
  'tick-of-beat': 'ticks of the beat',
  minutes: 'minutes',
  seconds: 'seconds',
  ms: 'ms',
  us: 'microseconds',
  frames: 'frames',
};

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
            : v.from === 'minute' || v.from === 'second'
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
      }[v.as];
    case 'velocity':
      return v.most === undefined && v.least === undefined
        ? 'velocity'
        : `velocity from ${v.least ?? 0} to ${v.most ?? 127}`;
    case 'joined':
      return v.parts.map((p) => (typeof p === 'string' ? `“${p}”` : sayValue(p))).join(' ');
    case 'fact':
      return `the ${factWords(v.key)}`;
    case 'count':
      return `how many of each ${ROWS[v.of.of]}`;
    case 'constant':
      return `always “${String(v.value)}”`;
    case 'row-number':
      return `number of the row, from ${v.first ?? 0}`;
    case 'on-off':
      return `“${v.on}” or “${v.off}”`;
    case 'flags':
      return 'flags';
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

const KINDS: Readonly<Record<Container['kind'], string>> = {
  table: 'a table',
  lines: 'lines of text',
  json: 'JSON',
  xml: 'XML',
  binary: 'bytes',
};

/** Every row and every value in it, by walking the description whatever its container is. */
export function sayFile({ container, path }: OwnFile): {
  path: string;
  kind: string;
  rows: string[];
} {
  const rows: string[] = [];
  const walk = (node: unknown, of: string | null): string[] => {
    if (typeof node !== 'object' || node === null) return [];
    if (Array.isArray(node)) return node.flatMap((n) => walk(n, of));
    const own = node as Record<string, unknown>;
    const value = own['value'] as Value | undefined;
    if (value && typeof value === 'object' && 'is' in value) return [sayValue(value)];
    const each = (own['each'] ?? (own['columns'] ? own['rows'] : undefined)) as Rows | undefined;
    const inner = Object.entries(own)
      .filter(([k]) => k !== 'each' && k !== 'rows')
      .flatMap(([k, n]) =>
        (k === 'text' || k === 'key') && n && typeof n === 'object' && 'is' in n
          ? [sayValue(n as Value)]
          : walk(n, each?.of ?? of),
      );
    if (each) {
      if (inner.length > 0) rows.unshift(`for each ${ROWS[each.of]}: ${inner.join(' · ')}`);
      return [];
    }
    return inner;
  };
  const once = walk(container, null).filter((s) => !s.startsWith('always'));
  return {
    path,
    kind: KINDS[container.kind],
    rows: [...(once.length > 0 ? [`once: ${once.join(' · ')}`] : []), ...rows],
  };
}
