import type * as z from 'zod';
import type { FormatDefinition } from '../../formats/define-format';
import {
  frameListFormat,
  framesFormat,
  type FrameRowSchema,
  type Frames,
} from '../../formats/frames';
import { loadJson } from '../strict-json';
import type { Target } from '../../target/schema';
import { count } from '../../target/words';
import { companion } from '../companion';
import { readCsv } from '../csv';
import { keeps } from '../device';
import { Gathering, type DeliveredFile, type Played } from '../played';

type Row = z.infer<typeof FrameRowSchema>;

/** A deck that runs by frame number; it reads the table, and its operator the list beside it. */
export function framePlayer(files: readonly DeliveredFile[], target: Target): Played {
  const out = new Gathering();
  const tables = files.filter((f) => f.path.endsWith('.frames.json'));
  if (tables.length === 0) out.refuse('', 'folder', 'There is no frame table.', 'outputs');
  for (const file of tables) {
    const data = loadJson(framesFormat as FormatDefinition<Frames>, file, out);
    if (!data) continue;
    const before = out.refused.length;
    check(data, file, files, target, out);
    if (out.refused.length === before) play(data, file.path, files, target, out);
  }
  return out.played;
}

function check(
  table: Frames,
  { path }: DeliveredFile,
  files: readonly DeliveredFile[],
  { frames, metadata }: Target,
  out: Gathering,
) {
  const no = (at: string, says: string, block: string | null = null) =>
    out.refuse(path, at, says, block);
  if (keeps(frames)) {
    const { perSecond, shiftLowest = -Infinity, shiftHighest = Infinity, endings } = frames!;
    if (!perSecond.includes(table.rate))
      no('rate', `It runs at ${perSecond.join(', ')}.`, 'frames');
    if (table.shift < shiftLowest || table.shift > shiftHighest)
      no('shift', `It takes ${shiftLowest} to ${shiftHighest}.`, 'frames');
    if (table.ending !== null && !endings.includes(table.ending))
      no('ending', `It knows ${endings.join(' and ')}.`, 'frames');
  }
  if (
    keeps(metadata) &&
    metadata!.required.some((r) => r.key === 'ending') &&
    table.ending === null
  )
    no('ending', 'It asks for this.', 'metadata');
  const all: {
    frame: number;
    on: number;
    channel: number;
    key: number;
    velocity: number | null;
  }[] = [];
  table.channels.forEach(({ channel, changes }, c) => {
    if (c > 0 && channel <= table.channels[c - 1]!.channel)
      no(`channels[${c}].channel`, 'Channels stand in order, each once.');
    if (changes.length === 0) no(`channels[${c}].changes`, 'A channel without a note.');
    const open = new Map<number, number>();
    changes.forEach(({ frame, event, key, velocity }, i) => {
      const at = `channels[${c}].changes[${i}]`;
      const on = event === 'on';
      const last = changes[i - 1];
      if (last && (frame < last.frame || (frame === last.frame && last.event === 'on' && !on)))
        no(`${at}.frame`, 'It stands before the last.');
      if (on !== (velocity !== null)) no(`${at}.velocity`, 'An on has one, an off has none.');
      const sounding = (open.get(key) ?? 0) + (on ? 1 : -1);
      if (sounding < 0) no(at, 'It ends what never began.');
      open.set(key, sounding);
      all.push({ frame, on: on ? 1 : 0, channel, key, velocity });
    });
    if ([...open.values()].some((n) => n !== 0)) no(`channels[${c}]`, 'A note never ends.');
  });
  const list = files.find((f) => f.path === path.replace(/\.frames\.json$/, '-frames.csv'));
  if (!list) return no('', 'The list beside the table is missing.', 'outputs');
  const { data, problems } = readCsv(frameListFormat as unknown as FormatDefinition<Row>, list);
  for (const p of problems) out.refuse(list.path, p.path, p.says);
  if (!data) return;
  all.sort((a, b) => a.frame - b.frame || a.on - b.on || a.channel - b.channel || a.key - b.key);
  if (data.length !== all.length)
    return out.refuse(
      list.path,
      'last line',
      `It has ${count(data.length, 'row')}, the table ${all.length}.`,
    );
  data.forEach((row, i) => {
    const c = all[i]!;
    const same =
      row.frame === c.frame &&
      row.event === (c.on ? 'on' : 'off') &&
      row.channel === c.channel &&
      row.key === c.key &&
      (row.velocity === '' ? null : row.velocity) === c.velocity &&
      row.seconds === Math.round((c.frame * 1_000_000) / table.rate);
    if (!same) out.refuse(list.path, `line ${i + 2}`, 'It does not agree with the table.');
  });
}

function play(
  table: Frames,
  file: string,
  files: readonly DeliveredFile[],
  target: Target,
  out: Gathering,
) {
  const us = (frame: number) => Math.round((frame * 1_000_000) / table.rate);
  out.rate = table.rate;
  out.lengthUs = Math.max(out.lengthUs, us(table.length));
  out.shows.push(
    `${file} ${JSON.stringify({ ...table, channels: table.channels.map((c) => [c.channel, c.name]) })}`,
  );
  companion(table.sound, file, files, target, out);
  for (const { channel, changes } of table.channels) {
    const seat = `channel ${channel}`;
    const open = new Map<number, { frame: number; velocity: number }[]>();
    for (const { frame, event, key, velocity } of changes) {
      const there = open.get(key) ?? [];
      open.set(key, there);
      if (event === 'on') {
        if (there.some((o) => o.frame === frame))
          out.dropped.push({
            atUs: us(frame),
            seat,
            key,
            file,
            because: 'another of its key begins in the same frame',
            block: 'frames',
            how: 'silent',
            writtenUs: us(frame),
          });
        there.push({ frame, velocity: velocity! });
        continue;
      }
      const on = there.shift()!;
      out.events.push({
        atUs: us(on.frame),
        lengthUs: us(frame) - us(on.frame),
        kind: 'note',
        seat,
        key,
        value: on.velocity,
        file,
      });
    }
  }
}
