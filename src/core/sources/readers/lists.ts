import Papa from 'papaparse';
import { readRows, type FormatDefinition } from '../../formats/define-format';
import { holeListFormat, timeListFormat, TIME_COLUMNS } from '../../formats/lists';
import { Gate, type Fault } from '../../score/gate';
import { LATEST_TICK } from '../../smf/file';
import type { MadeScore, SourceReader } from './define-reader';
import { newFile, type NewNote } from './tracks';

/** Half a second to a quarter: 120 BPM, so that ticks are a share of a second. */
const TEMPO = [{ tick: 0, microsecondsPerQuarter: 500_000 }];
const METER = [{ tick: 0, numerator: 4, denominator: 4 }];

type Rows = readonly Readonly<Record<string, string | number>>[];

/** The rows of a list, or the first fault of it. Line ends of any kind are taken. */
function rowsOf(format: FormatDefinition, text: string): { rows: Rows } | { fault: Fault } {
  const parsed = Papa.parse<string[]>(text.replace(/\r\n?/g, '\n').trimEnd(), {
    delimiter: ',',
    newline: '\n',
  });
  const [error] = parsed.errors;
  if (error) return { fault: { place: `line ${(error.row ?? 0) + 1}`, says: `${error.message}.` } };
  const { data, problems } = readRows(format, parsed.data);
  if (data) return { rows: data as Rows };
  return { fault: { place: problems[0]!.path || 'line 1', says: problems[0]!.says } };
}

const headOf = (text: string) => text.slice(0, 200).split(/\r?\n/)[0]!.toLowerCase();
/** Whatever parts the columns: what is wrong with them is said when it is read. */
const begins = (columns: readonly string[]) => (text: string) =>
  headOf(text)
    .split(/[,;\t]/)
    .slice(0, 3)
    .join() === columns.slice(0, 3).join();

/** From the finest on; the coarsest holds 24 days. */
const TICKS_A_MS = [50, 25, 10, 5, 2, 1];
const endMs = (row: Rows[number]) => Number(row['ms']) + Number(row['length ms']);

const unformula = (text: string) => (/^'[=+\-@]/.test(text) ? text.slice(1) : text);

/** Our time list: parts by their names, markers where they change, at the time that is listed. */
export const timeListReader: SourceReader = {
  id: 'time-list',
  suits: begins(TIME_COLUMNS),
  read(text): MadeScore {
    const read = rowsOf(timeListFormat, text);
    if ('fault' in read) return read;
    // 20 µs a tick: times are listed in thousandths of a millisecond. A longer list has coarser ticks.
    const lastMs = read.rows.reduce((most, r) => Math.max(most, endMs(r)), 0);
    const ticksPerMs = TICKS_A_MS.find((ticks) => lastMs * ticks <= LATEST_TICK) ?? 1;
    const ppq = ticksPerMs * 500;
    const tracks = new Map<string, { channel: number; notes: NewNote[] }>();
    const markers: { tick: number; text: string }[] = [];
    const captions: { tick: number; text: string }[] = [];
    const gate = new Gate();
    for (const [i, row] of read.rows.entries()) {
      const place = () => `line ${i + 2}`;
      const tick = gate.rising(Number(row['ms']) * ticksPerMs, place, 'The time');
      const part = gate.text(unformula(String(row['part'])) || 'Notes', place);
      // A part keeps its channel, wherever it stands in the list.
      let track = tracks.get(part);
      if (!track) tracks.set(part, (track = { channel: (tracks.size % 16) + 1, notes: [] }));
      const length = Math.max(1, Math.round(Number(row['length ms']) * ticksPerMs));
      gate.end(tick, length, place);
      const key = gate.key(Number(row['note']), place);
      track.notes.push({ tick, length, channel: track.channel, key, velocity: 100 });
      const marker = gate.text(unformula(String(row['marker'])), place);
      if (marker !== '' && markers.at(-1)?.text !== marker) markers.push({ tick, text: marker });
      const caption = gate.text(unformula(String(row['caption'])), place);
      if (caption !== '') captions.push({ tick, text: caption.replaceAll(' / ', '\n') });
      gate.one(place);
      if (gate.refused) return gate.refused;
    }
    return {
      file: newFile(
        ppq,
        0,
        { tempos: TEMPO, meters: METER, markers },
        [...tracks].map(([name, { notes }]) => ({ name, notes })),
      ),
      extras: {
        ...(captions.length > 0 ? { captions } : {}),
      },
      doubts: [],
    };
  },
};

/**
 * Rows a second, from the latest row, where both numbers are finest; null where a row contradicts it.
 * `seconds` is read as whole microseconds, so that every row agrees within one of them.
 */
function rateOf(rows: Rows, gate: Gate): number | null {
  const last = rows.reduce((most, r) => Math.max(most, Number(r['row'])), 0);
  const latest = rows.find((r) => Number(r['row']) === last);
  const us = Number(latest?.['seconds']);
  const rate = last > 0 ? Math.round((last * 1_000_000) / us) : 8;
  const bad = rows.findIndex((r) => {
    const row = Number(r['row']);
    return row >= 0 && Math.abs((row * 1_000_000) / rate - Number(r['seconds'])) > 1;
  });
  if (rate >= 1 && rate <= 400 && bad < 0) return rate;
  gate.refuse(`line ${Math.max(0, bad) + 2}`, 'Row and seconds contradict.');
  return null;
}

/** Our hole list: a part for each rank, a row long each. */
export const holeListReader: SourceReader = {
  id: 'hole-list',
  suits: begins(holeListFormat.columns!),
  read(text): MadeScore {
    const read = rowsOf(holeListFormat, text);
    if ('fault' in read) return read;
    const gate = new Gate();
    const rate = rateOf(read.rows, gate);
    if (rate === null) return gate.refused!;
    const ppq = rate * 40;
    const row = 80;
    const ranks: NewNote[][] = [[], []];
    for (const [i, line] of read.rows.entries()) {
      const place = () => `line ${i + 2}`;
      const tick = gate.rising(Number(line['row']) * row, place, 'The row');
      gate.end(tick, row, place);
      if (gate.refused) return gate.refused;
      for (const [r, cell] of [line['front'], line['rear']].entries())
        for (const pipe of String(cell)
          .split('|')
          .map((p) => p.trim())
          .filter(Boolean)) {
          const key = Number(pipe.split(/\s+/).at(-1));
          if (!Number.isInteger(key) || key < 0 || key > 127)
            return { fault: { place: `line ${i + 2}`, says: `“${pipe}” is no pipe.` } };
          ranks[r]!.push({
            tick,
            length: row,
            channel: r + 1,
            key,
            velocity: 64,
          });
          gate.one(place);
        }
    }
    return {
      file: newFile(ppq, 0, { tempos: TEMPO, meters: METER, markers: [] }, [
        { name: 'Front rank', notes: ranks[0]! },
        { name: 'Rear rank', notes: ranks[1]! },
      ]),
      extras: {
        metadata: { rowsPerSecond: String(rate) },
      },
      doubts: [],
    };
  },
};
