import { spawnSync } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import { parseMidi, writeMidi } from 'midi-file';
import { read as readMidiTs, write as writeMidiTs } from 'midifile-ts';
import { BasicMIDI } from 'spessasynth_core';
import { Bench } from 'tinybench';
import tonejs from '@tonejs/midi';
import { runPlan } from '../src/core/plan/run';
import { openSource } from '../src/core/plan/open';
import { compareById } from '../src/core/compare/by-id';
import { proof } from '../src/core/rules/proof';
import { scoreFromFile } from '../src/core/score/from-file';
import { layoutOf } from '../src/core/score/layout';
import { toTrack } from '../src/core/score/to-tracks';
import { buildFile } from '../src/core/smf/build';
import { readSmf } from '../src/core/smf/read';
import { writeSmf } from '../src/core/smf/write';
import { findTarget } from '../src/core/target/index';
import { benchSong } from './songs';

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

async function race(contenders: Record<string, () => unknown>, large: boolean) {
  const bench = new Bench({
    time: large ? 1 : 400,
    iterations: large ? 3 : 8,
    warmup: !large,
    warmupIterations: 1,
  });
  for (const [name, work] of Object.entries(contenders)) bench.add(name, work);
  await bench.run();
  const out: Record<string, number> = {};
  for (const task of bench.tasks) {
    const r = task.result as unknown as { latency?: { p50: number }; error?: Error };
    out[task.name] = r.latency?.p50 ?? NaN;
  }
  return out;
}

async function reading() {
  rows.push('', '## Reading, from bytes to what can be worked with');
  table([
    'file',
    'byte walk',
    'ours, to the full score',
    'midi-file',
    '@tonejs/midi',
    'midifile-ts',
    'spessasynth_core',
    'fastest peer / ours',
    'ours / byte walk',
  ]);
  for (const [name, bytes] of songs) {
    const large = bytes.length > 2_000_000;
    const buffer = bytes.slice().buffer;
    const t = await race(
      {
        walk: () => byteWalk(bytes),
        ours: () => scoreFromFile(readSmf(bytes).file!, { sourceKey: 'x' }),
        'midi-file': () => parseMidi(bytes),
        // A million notes take it over a minute; it is never the fastest.
        ...(large ? {} : { tonejs: () => new tonejs.Midi(bytes) }),
        'midifile-ts': () => readMidiTs(bytes),
        spessa: () => BasicMIDI.fromArrayBuffer(buffer.slice(0)),
      },
      large,
    );
    const peers = [t['midi-file']!, t['tonejs'] ?? NaN, t['midifile-ts']!, t['spessa']!].filter(
      (n) => !Number.isNaN(n),
    );
    row(
      name,
      ms(t['walk']!),
      ms(t['ours']!),
      ms(t['midi-file']!),
      ms(t['tonejs'] ?? NaN),
      ms(t['midifile-ts']!),
      ms(t['spessa']!),
      times(Math.min(...peers) / t['ours']!),
      times(t['ours']! / t['walk']!),
    );
  }
}

async function writing() {
  rows.push('', '## Writing, from the library’s own form to bytes');
  table([
    'file',
    'ours, file to bytes',
    'ours, score to bytes',
    'midi-file',
    '@tonejs/midi',
    'midifile-ts',
    'spessasynth_core',
    'fastest peer / ours (score)',
  ]);
  for (const [name, bytes] of songs) {
    const large = bytes.length > 2_000_000;
    const file = readSmf(bytes).file!;
    const score = scoreFromFile(file, { sourceKey: 'x' });
    const delivery = { format: 1, layout: 'as-is', fileName: 'x' } as const;
    const plain = parseMidi(bytes);
    const tone = large ? null : new tonejs.Midi(bytes);
    const ts = readMidiTs(bytes);
    const spessa = BasicMIDI.fromArrayBuffer(bytes.slice().buffer);
    const t = await race(
      {
        file: () => writeSmf(file),
        score: () =>
          writeSmf(
            buildFile(
              1,
              480,
              layoutOf({ score, delivery }).map((s) => toTrack(score, s)),
            ),
          ),
        'midi-file': () => writeMidi(plain),
        ...(tone ? { tonejs: () => tone.toArray() } : {}),
        'midifile-ts': () => writeMidiTs(ts.tracks as never, ts.header.ticksPerBeat),
        spessa: () => spessa.writeMIDI(),
      },
      large,
    );
    const peers = [t['midi-file']!, t['tonejs'] ?? NaN, t['midifile-ts']!, t['spessa']!].filter(
      (n) => !Number.isNaN(n),
    );
    row(
      name,
      ms(t['file']!),
      ms(t['score']!),
      ms(t['midi-file']!),
      ms(t['tonejs'] ?? NaN),
      ms(t['midifile-ts']!),
      ms(t['spessa']!),
      times(Math.min(...peers) / t['score']!),
    );
  }
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
  if (reader === 'ours') kept.push(scoreFromFile(readSmf(bytes).file!, { sourceKey: 'x' }));
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
    const run = runPlan({ source: source!, target, plan: { steps } });
    const { rendition } = run;
    for (const o of run.outcomes) if (o.refused) console.log('refused', o.refused);
    const plan = best(() => runPlan({ source: source!, target, plan: { steps } }));
    const rules = best(() => proof({ rendition, target, source: source! }));
    const compare = best(() => compareById(source!.score, rendition.pieces[0]!.score));
    const left = rendition.pieces[0]!.score.parts.reduce((n, p) => n + p.notes.count, 0);
    row(name, ms(plan), ms(rules), ms(compare), left.toLocaleString('en-GB'));
  }
}

const once = process.argv.indexOf('--read-once');
if (once > 0) readOnce(process.argv[once + 1]!);
else {
  const only = process.argv[2];
  if (!only || only === 'reading') await reading();
  if (!only || only === 'writing') await writing();
  if (!only || only === 'memory') memory();
  if (!only || only === 'plan') planAndRules();
  if (!only) {
    mkdirSync('bench', { recursive: true });
    const head = [
      '# Bench',
      '',
      `Written by \`npm run bench\` with Node.js ${process.version}. Ratios count; times are of one machine. Medians of several runs.`,
    ];
    writeFileSync('bench/results.md', [...head, ...rows, ''].join('\n'));
  }
}
