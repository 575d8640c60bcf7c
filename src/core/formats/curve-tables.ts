import * as z from 'zod';
import { defineFormat } from './define-format';
import { secondsCell, wholeCell } from './values';

const cell = z.string();

export const PatchRowSchema = z.strictObject({
  place: z.string().regex(/^\d+\.\d+\+\d+$/, 'bar.beat+ticks is needed'),
  seconds: secondsCell,
  marker: cell,
  preset: cell,
  bank: wholeCell,
  program: wholeCell,
  switches: cell,
  'delay ms': wholeCell,
});

export const patchListFormat = defineFormat({
  id: 'patch-list',
  title: 'Patch list',
  summary: 'Every preset with its place, what is switched on then, and the delay in tempo.',
  file: 'name-patches.csv',
  kind: 'csv',
  schema: PatchRowSchema,
  columns: ['place', 'seconds', 'marker', 'preset', 'bank', 'program', 'switches', 'delay ms'],
  notes: [
    'The marker is the one that the preset is for; it is empty where there is none.',
    'Switches are the controllers that are on until the next preset first changes one, parted by spaces.',
    'The delay is a quarter of the tempo in force, in whole milliseconds.',
  ],
  reader: `const [head, ...lines] = new TextDecoder().decode(bytes).trim().split('\\r\\n');
const found = [];
for (const line of lines) {
  const [place, seconds, marker, preset, bank, program] = line.split(',');
  found.push({ seconds: Number(seconds), bank: Number(bank), program: Number(program) });
}`,
});

export const LevelRowSchema = z.strictObject({
  row: wholeCell,
  seconds: secondsCell,
  controller: wholeCell,
  level: wholeCell,
});

export const levelTableFormat = defineFormat({
  id: 'level-table',
  title: 'Level table',
  summary: 'Levels of controllers, row by row, where they change.',
  file: 'name-levels.csv',
  kind: 'csv',
  schema: LevelRowSchema,
  columns: ['row', 'seconds', 'controller', 'level'],
  notes: ['There are 40 rows a second. Of several values in a row the last stands there.'],
  reader: `const [head, ...lines] = new TextDecoder().decode(bytes).trim().split('\\r\\n');
const found = [];
for (const line of lines) {
  const [row, seconds, controller, level] = line.split(',').map(Number);
  found.push({ row, seconds, controller, level });
}`,
});
