import { spawnSync } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import { parseMidi, writeMidi } from 'midi-file';
import { read as readMidiTs, write as writeMidiTs } from 'midifile-ts';
import { BasicMIDI } from 'spessasynth_core';
import { Bench } from 'tinybench';
import tonejs from '@tonejs/midi';
import { runPlan } from '../src/core/plan/run';
import { openSource } from '../src/core/sources/source';
import { compareById } from '../src/core/compare/by-id';
import { proof } from '../src/core/rules/proof';
import { scoreFromFile } from '../src/core/score/from-file';
import { readScore } from '../src/core/score/read-score';
import { layoutOf } from '../src/core/score/layout';
import { toTrack } from '../src/core/score/to-tracks';
import { buildFile } from '../src/core/smf/build';
import { readSmf } from '../src/core/smf/read';
import { writeSmf } from '../src/core/smf/write';
import { findTarget } from '../src/core/target/index';
import { benchSong } from './songs';
import { baseOf } from '../src/core/plan/base';

/** The floor: every byte looked at once, deltas summed, nothing kept. */
function byteWalk(bytes: Uint8Array): number {
  let at = 14;
  let sum = 0;
  while (at + 8 <= bytes.length) {
    const length =
      (bytes[at + 4]! << 24) | (bytes[at + 5]! << 16) | (bytes[at + 6]! << 8) | bytes[at + 7]!;
    at += 8;
    const end = at + length;
    let running = 0;
    while (at < end) {
      let delta = 0;
      let byte: number;
      do {
        byte = bytes[at++]!;
        delta = (delta << 7) | (byte & 0x7f);
      } while (byte >= 0x80);
      sum += delta;
      let status = bytes[at]!;
      if (status >= 0x80) at++;
      else status = running;
      if (status < 0xf0) {
        at += status >= 0xc0 && status < 0xe0 ? 1 : 2;
        running = status;
      } else {
        if (status === 0xff) at++;
        let size = 0;
        do {
          byte = bytes[at++]!;
          size = (size << 7) | (byte & 0x7f);
        } while (byte >= 0x80);
        at += size;
      }
    }
  }
  return sum;
}

const songs = [
  ['10 thousand notes', benchSong({ notes: 10_000, tracks: 8 })],
  ['100 thousand notes', benchSong({ notes: 100_000, tracks: 16 })],
  ['1 million notes', benchSong({ notes: 1_000_000, tracks: 16 })],
  ['10 thousand notes, 5,000 tempos', benchSong({ notes: 10_000, tracks: 8, tempos: 5000 })],
] as const;

const rows: string[] = [];
const table = (head: string[]) =>
  rows.push('', `| ${head.join(' | ')} |`, `|${' --- |'.repeat(head.length)}`);
const row = (...cells: string[]) => {
  rows.push(`| ${cells.join(' | ')} |`);
  console.log(cells.join('  '));
};
const ms = (n: number) =>
  Number.isNaN(n) ? 'not run' : `${n < 10 ? n.toFixed(2) : n.toFixed(0)} ms`;
const times = (n: number) => `${n.toFixed(1)}×`;

type Contender =
  'walk' | 'file' | 'ours' | 'midi-file' | '@tonejs/midi' | 'midifile-ts' | 'spessasynth_core';
const PEERS = ['midi-file', '@tonejs/midi', 'midifile-ts', 'spessasynth_core'] as const;

/** What a contender does with a song, ready to be run over and over. */
function readingOf(who: Contender, bytes: Uint8Array): () => unknown {
  const buffer = bytes.slice().buffer;
  switch (who) {
    case 'walk':
      return () => byteWalk(bytes);
    case 'midi-file':
      return () => parseMidi(bytes);
    case '@tonejs/midi':
      return () => new tonejs.Midi(bytes);
    case 'midifile-ts':
      return () => readMidiTs(bytes);
    case 'spessasynth_core':
      return () => BasicMIDI.fromArrayBuffer(buffer.slice(0));
    default:
      return () => readScore(bytes, { sourceKey: 'x' }).score;
  }
}

function writingOf(who: Contender, bytes: Uint8Array): () => unknown {
  if (who === 'midi-file') {
    const plain = parseMidi(bytes);
    return () => writeMidi(plain);
  }
  if (who === '@tonejs/midi') {
    const tone = new tonejs.Midi(bytes);
    return () => tone.toArray();
  }
  if (who === 'midifile-ts') {
    const ts = readMidiTs(bytes);
    return () => writeMidiTs(ts.tracks as never, ts.header.ticksPerBeat);
  }
  if (who === 'spessasynth_core') {
    const spessa = BasicMIDI.fromArrayBuffer(bytes.slice().buffer);
    return () => spessa.writeMIDI();
  }
  const file = readSmf(bytes).file!;
  if (who === 'file') return () => writeSmf(file);
  const score = scoreFromFile(file, { sourceKey: 'x' });
  const delivery = { format: 1, layout: 'as-is', fileName: 'x' } as const;
  return () =>
    writeSmf(
      buildFile(
        1,
        480,
        layoutOf({ score, delivery }).map((s) => toTrack(score, s)),
      ),
    );
}

/** Times one contender in this process; the parent asks for each in a process of its own. */
async function timeOne(what: string, song: number, who: Contender) {
  const bytes = songs[song]![1];
  const large = bytes.length > 2_000_000;
  const bench = new Bench({
    time: large ? 1 : 500,
    iterations: large ? 5 : 20,
    warmupTime: large ? 1 : 250,
    warmupIterations: large ? 1 : 10,
  });
  bench.add(who, what === 'reading' ? readingOf(who, bytes) : writingOf(who, bytes));
  await bench.run();
  const result = bench.tasks[0]!.result as unknown as { latency?: { p50: number } };
  process.stdout.write(String(result.latency?.p50 ?? NaN));
}

/** Each contender in a process of its own, one after the other: none pays for another's garbage. */
function race(what: 'reading' | 'writing', song: number, contenders: readonly Contender[]) {
  const large = songs[song]![1].length > 2_000_000;
  return contenders.map((who) => {
    // A million notes take it over a minute; it is never the fastest.
    if (large && who === '@tonejs/midi') return NaN;
    const { stdout } = spawnSync(
      process.execPath,
      ['--max-old-space-size=8192', process.argv[1]!, '--time', what, String(song), who],
      { encoding: 'utf8' },
    );
    return Number(stdout.trim());
  });
}

const fastest = (times: readonly number[]) => Math.min(...times.filter((n) => !Number.isNaN(n)));

function reading() {
  rows.push('', '## Reading, from bytes to what can be worked with');
  table([
    'file',
    'byte walk',
    'ours, to the full score',
    ...PEERS,
    'fastest peer / ours',
    'ours / byte walk',
  ]);
  songs.forEach(([name], i) => {
    const [walk, ours, ...peers] = race('reading', i, ['walk', 'ours', ...PEERS]) as [
      number,
      number,
      ...number[],
    ];
    row(
      name,
      ms(walk),
      ms(ours),
      ...peers.map(ms),
      times(fastest(peers) / ours),
      times(ours / walk),
    );
  });
}

function writing() {
  rows.push('', '## Writing, from the library’s own form to bytes');
  table([
    'file',
    'ours, file to bytes',
    'ours, score to bytes',
    ...PEERS,
    'fastest peer / ours, from the score',
  ]);
  songs.forEach(([name], i) => {
    const [file, ours, ...peers] = race('writing', i, ['file', 'ours', ...PEERS]) as [
      number,
      number,
      ...number[],
    ];
    row(name, ms(file), ms(ours), ...peers.map(ms), times(fastest(peers) / ours));
  });
}

/** Peak memory of a whole process that reads the file once. */
function memory() {
  rows.push('', '## Peak memory of a process that reads 1 million notes');
  table(['reader', 'peak']);
  const peak = (reader: string) => {
    const script = process.argv[1]!;
    const { stdout } = spawnSync(process.execPath, [script, '--read-once', reader], {
      encoding: 'utf8',
      maxBuffer: 1 << 20,
    });
    return Number(stdout.trim());
  };
  const found: Record<string, number> = {};
  for (const reader of ['nothing', 'ours', 'midi-file', 'tonejs', 'midifile-ts', 'spessa']) {
    found[reader] = peak(reader);
    row(
      reader === 'nothing' ? 'the file alone' : reader,
      `${Math.round(found[reader]! / 1024)} MB`,
    );
  }
  const leanest = Math.min(
    found['midi-file']!,
    found['tonejs']!,
    found['midifile-ts']!,
    found['spessa']!,
  );
  row('leanest peer / ours', times(leanest / found['ours']!));
}

function readOnce(reader: string) {
  const bytes = songs[2][1];
  const kept: unknown[] = [];
  if (reader === 'ours') kept.push(readScore(bytes, { sourceKey: 'x' }).score);
  if (reader === 'midi-file') kept.push(parseMidi(bytes));
  if (reader === 'tonejs') kept.push(new tonejs.Midi(bytes));
  if (reader === 'midifile-ts') kept.push(readMidiTs(bytes));
  if (reader === 'spessa') kept.push(BasicMIDI.fromArrayBuffer(bytes.slice().buffer));
  process.stdout.write(String(process.resourceUsage().maxRSS));
  return kept;
}

const TEN_STEPS = [
  ['route', { seat: 'cue-line', channel: 16, track: 'Cue line' }],
  ['transpose', { semitones: -12 }],
  ['fold-octaves', { lowest: 24, highest: 59 }],
  ['drop-duplicates', { notes: true, events: true }],
  ['one-tempo-holding-clock', { microsecondsPerQuarter: 500_000 }],
  ['rest-at-start', { bars: 3 }],
  ['thin', { apartMs: 20, per: 'key', keep: 'first' }],
  ['lengthen', { shortestMs: 50 }],
  ['strip', { kinds: ['controllers', 'text'] }],
  ['set-ppq', { ticksPerQuarter: 960 }],
] as const;

function planAndRules() {
  rows.push('', '## A plan of ten steps, all rules of one target, a comparison');
  table(['file', 'ten steps', 'all rules', 'comparison by ids', 'notes']);
  const target = findTarget('lantern-rail')!;
  for (const [name, bytes] of songs.slice(0, 3)) {
    const { source } = openSource(bytes, { key: 'main', name: 'x.mid', sha256: 'x' });
    const steps = TEN_STEPS.map(([step, params], i) => ({
      key: String(i),
      step,
      params,
      scope: {},
      on: true,
    }));
    const best = (work: () => unknown) => {
      let least = Infinity;
      for (let i = 0; i < 3; i++) {
        const from = performance.now();
        work();
        least = Math.min(least, performance.now() - from);
      }
      return least;
    };
    const run = runPlan({ base: baseOf(source!), target, plan: { steps } });
    const { rendition } = run;
    for (const o of run.outcomes) if (o.refused) console.log('refused', o.refused);
    const plan = best(() => runPlan({ base: baseOf(source!), target, plan: { steps } }));
    const rules = best(() => proof({ rendition, target, base: baseOf(source!) }));
    const compare = best(() => compareById(source!, rendition.pieces[0]!));
    const left = rendition.pieces[0]!.score.parts.reduce((n, p) => n + p.notes.count, 0);
    row(name, ms(plan), ms(rules), ms(compare), left.toLocaleString('en-GB'));
  }
}

const once = process.argv.indexOf('--read-once');
const timed = process.argv.indexOf('--time');
if (once > 0) readOnce(process.argv[once + 1]!);
else if (timed > 0) {
  const [what, song, who] = process.argv.slice(timed + 1) as [string, string, Contender];
  await timeOne(what, Number(song), who);
} else {
  const only = process.argv[2]?.startsWith('--') ? undefined : process.argv[2];
  if (!only || only === 'reading') reading();
  if (!only || only === 'writing') writing();
  if (!only || only === 'memory') memory();
  if (!only || only === 'plan') planAndRules();
  // Kept where that is asked for; a run alone changes no file that is kept.
  console.log(rows.join('\n'));
  if (process.argv.includes('--keep')) {
    mkdirSync('bench', { recursive: true });
    const head = [
      '# Bench',
      '',
      `Written by \`npm run bench\` with Node.js ${process.version}. Ratios count; times are of one machine. Medians of several runs.`,
    ];
    writeFileSync('bench/results.md', [...head, ...rows, ''].join('\n'));
  }
}
