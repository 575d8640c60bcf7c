import Papa from 'papaparse';
import { readRows, type FormatDefinition } from '../../formats/define-format';
import { holeListFormat, timeListFormat, TIME_COLUMNS } from '../../formats/lists';
import type { Fault, MadeScore, SourceReader } from './define-reader';
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

const unformula = (text: string) => (/^'[=+\-@]/.test(text) ? text.slice(1) : text);

/** Our time list: parts by their names, markers where they change, at the time that is listed. */
export const timeListReader: SourceReader = {
  id: 'time-list',
  suits: begins(TIME_COLUMNS),
  read(text, name): MadeScore {
    const read = rowsOf(timeListFormat, text);
    if ('fault' in read) return read;
    // 20 µs a tick: times are listed in thousandths of a millisecond.
    const ppq = 25_000;
    const tickOf = (ms: number) => Math.round(ms * 50);
    const tracks = new Map<string, NewNote[]>();
    const markers: { tick: number; text: string }[] = [];
    const captions: { tick: number; text: string }[] = [];
    for (const row of read.rows) {
      const tick = tickOf(Number(row['ms']));
      const part = unformula(String(row['part'])) || 'Notes';
      const notes = tracks.get(part) ?? [];
      tracks.set(part, notes);
      notes.push({
        tick,
        length: Math.max(1, tickOf(Number(row['length ms']))),
        channel: ((tracks.size - 1) % 16) + 1,
        key: Number(row['note']),
        velocity: 100,
      });
      const marker = unformula(String(row['marker']));
      if (marker !== '' && markers.at(-1)?.text !== marker) markers.push({ tick, text: marker });
      const caption = unformula(String(row['caption']));
      if (caption !== '') captions.push({ tick, text: caption.replaceAll(' / ', '\n') });
    }
    const bad = read.rows.findIndex((r) => Number(r['note']) > 127 || Number(r['note']) < 0);
    if (bad >= 0)
      return { fault: { place: `line ${bad + 2}`, says: 'A note number is 0 to 127.' } };
    return {
      file: newFile(
        ppq,
        0,
        { tempos: TEMPO, meters: METER, markers },
        [...tracks].map(([track, notes]) => ({ name: track, notes })),
      ),
      extras: {
        fileName: `${name.replace(/(-times)?\.csv$/i, '')}.mid`,
        ...(captions.length > 0 ? { captions } : {}),
      },
      doubts: [],
    };
  },
};

/** Our hole list: a part for each rank, a row long each. */
export const holeListReader: SourceReader = {
  id: 'hole-list',
  suits: begins(holeListFormat.columns!),
  read(text, name): MadeScore {
    const read = rowsOf(holeListFormat, text);
    if ('fault' in read) return read;
    const last = read.rows.at(-1);
    // `seconds` is read as whole microseconds.
    const rate =
      last && Number(last['row']) > 0
        ? Math.round((Number(last['row']) * 1_000_000) / Number(last['seconds']))
        : 8;
    if (!(rate >= 1 && rate <= 400))
      return {
        fault: { place: `line ${read.rows.length + 1}`, says: 'Row and seconds contradict.' },
      };
    const ppq = rate * 40;
    const row = 80;
    const ranks: NewNote[][] = [[], []];
    for (const [i, line] of read.rows.entries())
      for (const [r, cell] of [line['front'], line['rear']].entries())
        for (const pipe of String(cell)
          .split('|')
          .map((p) => p.trim())
          .filter(Boolean)) {
          const key = Number(pipe.split(/\s+/).at(-1));
          if (!Number.isInteger(key) || key < 0 || key > 127)
            return { fault: { place: `line ${i + 2}`, says: `“${pipe}” is no pipe.` } };
          ranks[r]!.push({
            tick: Number(line['row']) * row,
            length: row,
            channel: r + 1,
            key,
            velocity: 64,
          });
        }
    return {
      file: newFile(ppq, 0, { tempos: TEMPO, meters: METER, markers: [] }, [
        { name: 'Front rank', notes: ranks[0]! },
        { name: 'Rear rank', notes: ranks[1]! },
      ]),
      extras: {
        fileName: `${name.replace(/(-holes)?\.csv$/i, '')}.mid`,
        metadata: { rowsPerSecond: String(rate) },
      },
      doubts: [],
    };
  },
};
