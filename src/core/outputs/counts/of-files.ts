import Papa from 'papaparse';
import { readScore } from '../../score/read-score';
import { decodeUtf8 } from '../../smf/text';
import type { Target } from '../../target/schema';
import { addTo, countScore, type Counts, type Kind } from './kinds';

/**
 * What a written file holds, counted from its bytes. Each counter reads its format for itself: what a
 * writer meant to write does not count.
 */
export type Counter = (bytes: Uint8Array, path: string, target: Target) => Counts | null;

const textOf = (bytes: Uint8Array) => decodeUtf8(bytes) ?? '';

/** A Standard MIDI File; where the target keeps no velocity, those that are written say nothing. */
export const countSmf: Counter = (bytes, path, { velocity }) => {
  if (!path.endsWith('.mid')) return null;
  const { score } = readScore(bytes, { sourceKey: 'counted' });
  if (!score) return new Map();
  const out = countScore(score);
  if (velocity?.deliveredAs !== undefined) out.delete('velocities');
  return out;
};

type Cells = Readonly<Record<string, string>>;

/** Rows of a CSV by its columns, whichever mark parts them. */
export function csvRows(bytes: Uint8Array): Cells[] {
  const text = textOf(bytes);
  const head = text.slice(0, text.indexOf('\n'));
  const delimiter = !head.includes(',') && head.includes(';') ? ';' : ',';
  const parsed = Papa.parse<Cells>(text, { header: true, delimiter, skipEmptyLines: true });
  return parsed.data;
}

export const countTimeList: Counter = (bytes) => {
  const out: Counts = new Map();
  let marker = '';
  const parts = new Set<string>();
  for (const row of csvRows(bytes)) {
    addTo(out, 'notes');
    if (row['note']) addTo(out, 'note numbers');
    if (row['length ms']) addTo(out, 'lengths');
    if (row['caption']) addTo(out, 'captions');
    if (row['part']) parts.add(row['part']);
    if (row['marker'] && row['marker'] !== marker) addTo(out, 'markers');
    marker = row['marker'] ?? '';
  }
  addTo(out, 'names', parts.size);
  return out;
};

export const countTempoMap: Counter = (bytes) => {
  const out: Counts = new Map();
  const columns: readonly [string, Kind][] = [
    ['bpm', 'tempos'],
    ['meter', 'meters'],
    ['key', 'keys'],
    ['marker', 'markers'],
  ];
  for (const row of csvRows(bytes))
    for (const [column, kind] of columns) if (row[column]) addTo(out, kind);
  return out;
};

export const countPatchList: Counter = (bytes) => {
  const out: Counts = new Map();
  let bank = '';
  for (const row of csvRows(bytes)) {
    addTo(out, 'programs');
    if (row['bank'] !== bank) addTo(out, 'bank changes');
    bank = row['bank'] ?? '';
  }
  return out;
};

export const countLevelTable: Counter = (bytes) => {
  const out: Counts = new Map();
  for (const row of csvRows(bytes))
    addTo(out, `controller ${Number(row['controller'])} changes` as Kind);
  return out;
};

export const countCaptions: Counter = (bytes) =>
  new Map([['captions', (textOf(bytes).match(/ --> /g) ?? []).length]]);

/** Pipes of a row stand as `C4 60 | E4 64`. */
export const countHoleList: Counter = (bytes) => {
  const out: Counts = new Map();
  for (const row of csvRows(bytes))
    for (const cell of [row['front'], row['rear']]) {
      const n = (cell ?? '').split(' | ').filter(Boolean).length;
      addTo(out, 'notes', n);
      addTo(out, 'note numbers', n);
    }
  return out;
};

export const countStripSheet: Counter = (bytes) => {
  const n = (textOf(bytes).match(/ data-row="/g) ?? []).length;
  return new Map([
    ['notes', n],
    ['note numbers', n],
  ]);
};

interface ChartFile {
  readonly tempos: readonly unknown[];
  readonly meters: readonly unknown[];
  readonly sections: readonly unknown[];
  readonly sound: unknown;
  readonly lines: readonly {
    readonly strikes: readonly { readonly lanes: number[]; readonly flags: string[] }[];
  }[];
}

export const countChart: Counter = (bytes) => {
  const { tempos, meters, sections, sound, lines } = JSON.parse(textOf(bytes)) as ChartFile;
  const out: Counts = new Map();
  for (const { strikes } of lines)
    for (const { lanes, flags } of strikes) {
      for (const kind of ['notes', 'note numbers', 'velocities', 'lengths'] as const)
        addTo(out, kind, lanes.length);
      addTo(out, 'flags', lanes.length * flags.length);
    }
  addTo(out, 'names', lines.length);
  addTo(out, 'tempos', tempos.length);
  addTo(out, 'meters', meters.length);
  addTo(out, 'markers', sections.length);
  addTo(out, 'sounds', sound === null ? 0 : 1);
  return out;
};

interface StrandsFile {
  readonly tempos: readonly unknown[];
  readonly passages: readonly unknown[];
  readonly sound: unknown;
  readonly strands: readonly {
    readonly kind: string;
    readonly value: string;
    readonly cues: readonly unknown[];
  }[];
}

/** A cue tells one value beside its time; a span its length as well. */
export const countStrands: Counter = (bytes) => {
  const { tempos, passages, sound, strands } = JSON.parse(textOf(bytes)) as StrandsFile;
  const out: Counts = new Map();
  for (const { kind, value, cues } of strands) {
    addTo(out, 'notes', cues.length);
    if (value === 'note-name' || value === 'note-number') addTo(out, 'note numbers', cues.length);
    if (value === 'velocity') addTo(out, 'velocities', cues.length);
    if (value === 'length' || kind === 'span') addTo(out, 'lengths', cues.length);
  }
  addTo(out, 'names', strands.length);
  addTo(out, 'tempos', tempos.length);
  addTo(out, 'markers', passages.length);
  addTo(out, 'sounds', sound === null ? 0 : 1);
  return out;
};

interface FramesFile {
  readonly sound: unknown;
  readonly channels: readonly { readonly changes: readonly { readonly event: string }[] }[];
}

const addFrame = (out: Counts, event: string) => {
  if (event === 'on') for (const k of FRAME_KINDS) addTo(out, k);
  else addTo(out, 'lengths');
};
const FRAME_KINDS = ['notes', 'note numbers', 'velocities'] as const;

export const countFrames: Counter = (bytes, path) => {
  const out: Counts = new Map();
  if (path.endsWith('.csv')) {
    for (const row of csvRows(bytes)) addFrame(out, row['event'] ?? '');
    return out;
  }
  const { sound, channels } = JSON.parse(textOf(bytes)) as FramesFile;
  for (const { changes } of channels) for (const { event } of changes) addFrame(out, event);
  addTo(out, 'names', channels.length);
  addTo(out, 'sounds', sound === null ? 0 : 1);
  return out;
};

export const countCrate: Counter = (bytes, path, target) => {
  const music = countSmf(bytes, path, target);
  // What lists the places tells one tempo and meter, which each file tells as well.
  return music ?? new Map();
};

export const countNothing: Counter = () => new Map();

export const countSound: Counter = () => new Map([['sounds', 1]]);
