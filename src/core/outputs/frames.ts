import * as z from 'zod';
import { frameListFormat, FRAMES_VERSION } from '../formats/frames';
import { deliveredEnd } from '../reading/ends';
import { frameNotes, type FrameNotes } from '../reading/frame-notes';
import { frameAt, frameRateOf, frameShiftOf } from '../reading/frames';
import { mapsOf } from '../score/inventory';
import { stemOf } from '../smf/name';
import type { Loss } from '../steps/define-step';
import { countFrames } from './counts/of-files';
import { defineWriter, safeName, type OutputFile } from './define-writer';
import { soundJson } from './conducting';
import { csvBytes, Entries, jsonBytes, type CsvLine, type TextBytes } from './text';

export const framesWriter = defineWriter({
  id: 'frames',
  format: 'frames',
  summary: 'A table of what changes in which frame, as JSON and as CSV.',
  carries: ['notes', 'note numbers', 'velocities', 'lengths', 'names', 'sounds'],
  count: countFrames,
  options: z.strictObject({}),
  write({ pieces }, _options, target, sound) {
    const files: OutputFile[] = [];
    const losses: Loss[] = [];
    pieces.forEach((piece, index) => {
      // Without a choice it is the deck's first rate: the finding says that one is asked for.
      const rate = frameRateOf(piece) ?? target.frames?.perSecond[0] ?? 25;
      const shift = frameShiftOf(piece);
      const { ending = null } = piece.delivery.metadata ?? {};
      const maps = mapsOf(piece.score);
      const table = frameNotes(piece, maps, rate, shift);
      if (table.short > 0)
        losses.push({ what: 'notes shorter than a frame, held for one', count: table.short });
      if (table.before > 0)
        losses.push({ what: 'notes before the first frame', count: table.before });
      const stem = stemOf(safeName(piece.delivery.fileName));
      const length = Math.max(0, frameAt(maps, rate, deliveredEnd(piece)) + shift);
      files.push({
        path: `${stem}.frames.json`,
        holds: index,
        bytes: jsonBytes(
          {
            format: 'frames',
            version: FRAMES_VERSION,
            rate,
            length,
            shift,
            ending,
            sound: soundJson(piece, sound),
            channels: channelsOf(table).map((channel) => ({
              channel: channel.channel,
              name: channel.name,
              changes: new Entries((entry) => writeChanges(entry, table, channel.channel)),
            })),
          },
          2,
        ),
      });
      files.push({
        path: `${stem}-frames.csv`,
        holds: index,
        bytes: csvBytes(frameListFormat.columns!, (line) => writeRows(line, table, rate)),
      });
    });
    return { files, losses };
  },
});

function channelsOf({ names }: FrameNotes) {
  return [...names]
    .map(([channel, name]) => ({ channel, name }))
    .sort((a, b) => a.channel - b.channel);
}

function writeChanges(entry: () => TextBytes, { changes }: FrameNotes, channel: number) {
  for (let i = 0; i < changes.count; i++) {
    if (changes.channel[i] !== channel) continue;
    const on = changes.on[i] === 1;
    const out = entry().add(on ? '{ "event": "on", "frame": ' : '{ "event": "off", "frame": ');
    out.int(changes.frame[i]!).add(', "key": ').int(changes.key[i]!).add(', "velocity": ');
    (on ? out.int(changes.velocity[i]!) : out.add('null')).add(' }');
  }
}

function writeRows(line: CsvLine, { changes }: FrameNotes, rate: number) {
  for (let i = 0; i < changes.count; i++) {
    const frame = changes.frame[i]!;
    const on = changes.on[i] === 1;
    line.int(frame);
    line.cell().decimals(Math.round((frame * 1_000_000) / rate), 6);
    line.int(changes.channel[i]!);
    line.cell().add(on ? 'on' : 'off');
    line.int(changes.key[i]!);
    if (on) line.int(changes.velocity[i]!);
    else line.cell();
    line.end();
  }
}
