import * as z from 'zod';
import { defineFormat } from './define-format';
import {
  channel,
  key,
  meters,
  named,
  ppq,
  sound,
  tempos,
  text,
  tick,
  us,
  velocity,
} from './values';

export const CHART_VERSION = 1;

const strike = z.strictObject({
  tick,
  atUs: us,
  lanes: z.array(z.int().min(1).max(64)).min(1).max(64).describe('Lanes, from 1.'),
  velocity,
  lengthTicks: z.int().min(0).describe('As written in the score, also of a short strike.'),
  holdUs: us.describe('How long it is held; 0 for a strike.'),
  flags: z.array(z.string().min(1).max(60)).max(16),
});

const line = z.strictObject({
  seat: z.string().min(1).max(60).describe('The seat of the target, by its id.'),
  name: text,
  track: text.nullable(),
  channel,
  rung: z.int().min(1).max(16).nullable(),
  keys: z.array(key).min(1).max(64).describe('The key of each lane in the score.'),
  phrases: z
    .array(z.strictObject({ fromTick: tick, toTick: tick }))
    .describe('From its first strike to the end of its last; empty where the target has none.'),
  strikes: z.array(strike).describe('In order of time; what is struck together is one.'),
});

export const ChartSchema = z.strictObject({
  format: z.literal('chart'),
  version: z.literal(CHART_VERSION),
  target: z.string().min(1).max(60).describe('The target that it was written for, by its id.'),
  title: text.nullable(),
  maker: text.nullable(),
  bpm: z.number().min(0.01).max(100_000).nullable().describe('As declared.'),
  ppq,
  endTick: tick,
  endUs: us,
  tempos,
  meters,
  sections: z.array(named).describe('From markers.'),
  sound,
  lines: z.array(line).max(256).describe('A side, or a rung of a part.'),
});
export type Chart = z.infer<typeof ChartSchema>;
export type ChartLine = Chart['lines'][number];
export type ChartStrike = ChartLine['strikes'][number];

export const chartFormat = defineFormat({
  id: 'chart',
  title: 'Chart',
  summary: 'A lane game’s song: sides or rungs, each with its strikes and holds.',
  file: 'name.chart.json',
  kind: 'json',
  schema: ChartSchema,
  notes: [
    'Times are told twice: ticks, which are exact, and whole microseconds from the start.',
    'Notes that are struck together with one length, velocity and set of flags are one entry; ' +
      'others of the same tick follow it as entries of their own.',
    'A chart that is brought in as a source gives the same notes, and the same bytes again.',
  ],
  reader: `const chart = JSON.parse(new TextDecoder().decode(bytes));
const found = [];
for (const line of chart.lines) {
  for (const strike of line.strikes) {
    for (const lane of strike.lanes) {
      found.push({ seconds: strike.atUs / 1e6, line: line.name, lane, held: strike.holdUs / 1e6 });
    }
  }
}
found.sort((a, b) => a.seconds - b.seconds);`,
});
