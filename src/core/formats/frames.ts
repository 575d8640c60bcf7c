import * as z from 'zod';
import { defineFormat } from './define-format';
import { channel, key, secondsCell, sound, text, velocity, wholeCell } from './values';

export const FRAMES_VERSION = 1;
const frame = z.int().min(0).max(1_000_000_000);

const change = z.strictObject({
  frame,
  event: z.enum(['on', 'off']),
  key,
  velocity: velocity.nullable().describe('Of an on.'),
});

export const FramesSchema = z.strictObject({
  format: z.literal('frames'),
  version: z.literal(FRAMES_VERSION),
  rate: z.int().min(1).max(240).describe('Frames a second.'),
  length: frame.describe('Frames in all.'),
  shift: z.int().min(-100_000).max(100_000).describe('Frames by which all was shifted.'),
  ending: z.enum(['round-again', 'rest-at-end']).nullable(),
  sound,
  channels: z
    .array(z.strictObject({ channel, name: text, changes: z.array(change) }))
    .max(16)
    .describe('Only those with notes.'),
});
export type Frames = z.infer<typeof FramesSchema>;

export const framesFormat = defineFormat({
  id: 'frames',
  title: 'Frame table',
  summary: 'What changes in which frame, by channel.',
  file: 'name.frames.json',
  kind: 'json',
  schema: FramesSchema,
  notes: [
    'In one frame the offs stand before the ons.',
    'A note that is shorter than a frame is held for one.',
  ],
  reader: `const table = JSON.parse(new TextDecoder().decode(bytes));
const found = [];
for (const { channel, changes } of table.channels) {
  for (const change of changes) {
    found.push({ seconds: change.frame / table.rate, channel, on: change.event === 'on', key: change.key });
  }
}
found.sort((a, b) => a.seconds - b.seconds);`,
});

export const FrameRowSchema = z.strictObject({
  frame: wholeCell,
  seconds: secondsCell,
  channel: wholeCell,
  event: z.enum(['on', 'off']),
  key: wholeCell,
  velocity: z.union([z.literal(''), wholeCell]),
});

export const frameListFormat = defineFormat({
  id: 'frame-list',
  title: 'Frame list',
  summary: 'The frame table as CSV, all channels together.',
  file: 'name-frames.csv',
  kind: 'csv',
  schema: FrameRowSchema,
  columns: ['frame', 'seconds', 'channel', 'event', 'key', 'velocity'],
  notes: [
    'Rows in order of frames; in one frame the offs first.',
    'Lines end with CR LF (RFC 4180).',
  ],
  reader: `const [head, ...lines] = new TextDecoder().decode(bytes).trim().split('\\r\\n');
const found = [];
for (const line of lines) {
  const [frame, seconds, channel, event, key] = line.split(',');
  found.push({ frame: Number(frame), seconds: Number(seconds), channel: Number(channel), event, key: Number(key) });
}`,
});
