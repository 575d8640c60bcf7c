import * as z from 'zod';
import { defineFormat } from './define-format';
import { secondsCell, wholeCell } from './values';

const cell = z.string();

/** Pipes of a row stand as `C4 60`, parted by spaces and bars: `C4 60 | E4 64`. */
export const HoleRowSchema = z.strictObject({
  row: wholeCell,
  seconds: secondsCell,
  front: cell.describe('Pipes of the front rank: note name and number, parted by “ | ”.'),
  rear: cell.describe('Pipes of the rear rank.'),
});

export const holeListFormat = defineFormat({
  id: 'hole-list',
  title: 'Hole list',
  summary: 'The holes of a punched strip, a row a line.',
  file: 'name-holes.csv',
  kind: 'csv',
  schema: HoleRowSchema,
  columns: ['row', 'seconds', 'front', 'rear'],
  notes: ['Rows are counted from 0; rows without a hole are not listed.'],
  reader: `const [head, ...lines] = new TextDecoder().decode(bytes).trim().split('\\r\\n');
const found = [];
for (const line of lines) {
  const [row, seconds, ...ranks] = line.split(',');
  ranks.forEach((pipes, rank) => {
    for (const pipe of pipes.split(' | ').filter(Boolean)) {
      found.push({ row: Number(row), seconds: Number(seconds), rank, key: Number(pipe.split(' ')[1]) });
    }
  });
}`,
});

export const TempoRowSchema = z.strictObject({
  tick: wholeCell,
  bar: wholeCell,
  beat: wholeCell,
  seconds: secondsCell,
  bpm: cell,
  meter: cell,
  key: cell,
  marker: cell,
});

export const tempoMapFormat = defineFormat({
  id: 'tempo-map',
  title: 'Tempo map',
  summary: 'Every tempo, meter, key and marker with its place, to check by eye.',
  file: 'name-tempo-map.csv',
  kind: 'csv',
  schema: TempoRowSchema,
  columns: ['tick', 'bar', 'beat', 'seconds', 'bpm', 'meter', 'key', 'marker'],
  notes: ['A cell is empty where nothing changes there.', 'BPM with at most six decimals.'],
  reader: `const [head, ...lines] = new TextDecoder().decode(bytes).trim().split('\\r\\n');
const found = [];
for (const line of lines) {
  const [tick, bar, beat, seconds, bpm, meter] = line.split(',');
  found.push({ bar: Number(bar), beat: Number(beat), seconds: Number(seconds), bpm, meter });
}`,
});

export const TIME_COLUMNS = [
  'number',
  'cue',
  'note',
  'name',
  'place',
  'clock',
  'ms',
  'length ms',
  'marker',
  'part',
  'caption',
] as const;

export const TimeRowSchema = z.strictObject({
  number: wholeCell,
  cue: wholeCell,
  note: wholeCell,
  name: cell,
  place: z.string().regex(/^\d+\.\d+\+\d+$/, 'bar.beat+ticks is needed'),
  clock: cell,
  ms: z
    .string()
    .regex(/^\d+(\.\d{1,3})?$/, 'milliseconds are needed')
    .transform(Number),
  'length ms': z
    .string()
    .regex(/^\d+(\.\d{1,3})?$/, 'milliseconds are needed')
    .transform(Number),
  marker: cell,
  part: cell,
  caption: cell,
});

export const timeListFormat = defineFormat({
  id: 'time-list',
  title: 'Time list',
  summary: 'Every note with its place and clock time.',
  file: 'name-times.csv',
  kind: 'csv',
  schema: TimeRowSchema,
  columns: TIME_COLUMNS,
  notes: [
    'The marker is the one in force; the caption is the one that the note turns to.',
    'A text that a spreadsheet would take for a formula begins with an apostrophe.',
    'For spreadsheets with a decimal comma the option `decimal: comma` parts columns by semicolons.',
  ],
  reader: `const [head, ...lines] = new TextDecoder().decode(bytes).trim().split('\\r\\n');
const found = [];
for (const line of lines) {
  const [number, cue, note, name, place, clock, ms] = line.split(',');
  found.push({ number: Number(number), cue: Number(cue), seconds: Number(ms) / 1000 });
}`,
});
