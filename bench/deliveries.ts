import { writeFileSync } from 'node:fs';
import { buildFile, TrackBuilder } from '../src/core/smf/build';
import { META, META_TEMPO, META_TRACK_NAME } from '../src/core/smf/file';
import { encodeUtf8 } from '../src/core/smf/text';
import { writeSmf } from '../src/core/smf/write';
import { writeOutputs } from '../src/core/outputs/index';
import { rehearsalOf } from '../src/core/handover/rehearsal';
import { baseOf } from '../src/core/plan/base';
import { runPlan } from '../src/core/plan/run';
import { openSource } from '../src/core/sources/source';
import { rehearse, standInOf } from '../src/core/standin/index';
import { builtInTargets } from '../src/core/target/index';
import type { Target } from '../src/core/target/schema';

/**
 * What writing, loading and holding against what is meant take on a million notes, writer by writer
 * and device by device: `npm run bench deliveries [target] [notes]`.
 */
const [only, amount = '1000000'] = process.argv.slice(2).filter((a) => !a.startsWith('--'));
const NOTES = Number(amount);

/** A song whose notes a target takes: on its channels, named as its tracks, on its keys. */
function songFor(target: Target): Uint8Array {
  const seats = target.seats.filter((s) => s.kind !== 'file').slice(0, 8);
  const tracks = Math.max(1, seats.length);
  const each = Math.ceil(NOTES / tracks);
  const head = new TrackBuilder();
  const us = 500_000;
  head.longEvent(0, META, META_TEMPO, Uint8Array.of(us >> 16, (us >> 8) & 255, us & 255));
  const end = each * 120 + 960;
  const built = [head.end(end)];
  for (let t = 0; t < tracks; t++) {
    const seat = seats[t];
    const channel = seat && 'channel' in seat && seat.channel ? seat.channel - 1 : t % 9;
    const name = (seat && 'track' in seat && seat.track) || `Part ${t + 1}`;
    const low = target.notes?.lowest ?? seat?.accepts?.lowest ?? 48;
    const keys =
      seat?.kind === 'laneGroup' ? seat.laneNotes : (target.notes?.only ?? [low, low + 3, low + 5]);
    const track = new TrackBuilder(each * 2 + 64);
    track.longEvent(0, META, META_TRACK_NAME, encodeUtf8(name));
    for (let i = 0; i < each; i++) {
      const key = keys[(i * 7) % keys.length]!;
      track.channelEvent(i * 120, 0x90 | channel, key, 40 + (i % 80));
      track.channelEvent(i * 120 + 60, 0x80 | channel, key, 64);
    }
    built.push(track.end(end));
  }
  return writeSmf(buildFile(1, 480, built));
}

function timed<T>(work: () => T): [T, number] {
  const from = performance.now();
  const result = work();
  return [result, performance.now() - from];
}

const seconds = (ms: number) => `${(ms / 1000).toFixed(2)} s`;
const lines = [
  '# Deliveries',
  '',
  `Written by \`npm run bench deliveries\` with Node.js ${process.version}, ${NOTES.toLocaleString('en-GB')} notes.`,
  '',
  '| target | written as | bytes | written in | device | loaded and played in | held against what is meant |',
  '| --- | --- | --- | --- | --- | --- | --- |',
];
for (const target of builtInTargets) {
  if (only && target.id !== only) continue;
  const bytes = songFor(target);
  const { source } = openSource(bytes, { key: 'main', name: 'salt.mid', sha256: 'x' });
  const base = baseOf(source!);
  const { rendition } = runPlan({ base, target, plan: { steps: [] } });
  const [device, writers] = [
    standInOf(target)?.name ?? 'none',
    target.outputs.map((o) => o.writer),
  ];
  const alone = writers.map((writer): string => {
    const one = { ...target, outputs: target.outputs.filter((o) => o.writer === writer) };
    return `${writer} ${seconds(timed(() => writeOutputs(rendition, one, null))[1])}`;
  });
  const [{ files }, wrote] = timed(() => writeOutputs(rendition, target, null));
  const [played, took] = timed(() => rehearse(files, target));
  const [, held] = timed(() => rehearsalOf(files, rendition, target, []));
  const size = files.reduce((n, f) => n + f.bytes.length, 0);
  const row = [
    target.id,
    alone.join(', '),
    size.toLocaleString('en-GB'),
    seconds(wrote),
    `${device}: ${played.events.length} played, ${played.dropped.length} dropped, ${played.refused.length} refused`,
    seconds(took),
    seconds(held - took),
  ];
  lines.push(`| ${row.join(' | ')} |`);
  console.log(lines.at(-1));
}
if (process.argv.includes('--keep')) writeFileSync('bench/deliveries.md', `${lines.join('\n')}\n`);
