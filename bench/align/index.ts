import { bandSongs } from '../../demo/band-songs';
import { seeded } from '../../demo/song';
import { mapsOf } from '../../src/core/score/inventory';
import { readScore } from '../../src/core/score/read-score';
import { align } from '../../src/core/sound/align/align';
import { soundFeatures, type FeatureNote } from '../../src/core/sound/align/features';
import { noveltyOf, onsetsOf } from '../../src/core/sound/onsets';
import type { Samples } from '../../src/core/sound/samples';
import { otherSound, RATE, type Played } from './other-sound';

/** How recordings lie beside scores: other sounds, played as people play, altered, and wrong pairs. */
const every = Number(process.argv[2] ?? 1);
const MOST_MS = 100_000;

interface Song {
  readonly name: string;
  readonly notes: readonly Played[];
  readonly barMs: (bar: number) => number;
  readonly endMs: number;
}

function songOf(name: string, bytes: Uint8Array): Song {
  const { score } = readScore(bytes, { sourceKey: 'main' });
  const { clock, bars } = mapsOf(score!);
  const notes = score!.parts.flatMap(({ channel, events, notes: n }) => {
    const program = events.kind.indexOf(0xc0);
    return Array.from({ length: n.count }, (_, i): Played => {
      const ms = clock.msAt(n.start[i]!);
      return {
        ms,
        lengthMs: clock.msAt(n.end[i]!) - ms,
        key: n.noteNumber[i]!,
        velocity: n.velocity[i]!,
        drum: channel === 10,
        program: program < 0 ? 0 : events.data1[program]!,
      };
    });
  });
  const kept = notes.filter((n) => n.ms < MOST_MS).sort((a, b) => a.ms - b.ms);
  const endMs = kept.reduce((ms, n) => Math.max(ms, n.ms + n.lengthMs), 0);
  return { name, notes: kept, barMs: (bar) => clock.msAt(bars.barStart(bar)), endMs };
}

const all = bandSongs()
  .map((s) => songOf(s.name, s.bytes))
  .filter((s) => s.notes.length > 40)
  .filter((_, i) => i % every === 0);

interface Take {
  readonly kind: string;
  readonly song: Song;
  readonly sound: Samples;
  /** Where a time of the score is heard; null where it is not there. */
  readonly at: (ms: number) => number | null;
  readonly missing: readonly [number, number] | null;
}

/** Some notes are late, wrong or not there, as people play them. */
function handed(notes: readonly Played[], at: (ms: number) => number, seed: number): Played[] {
  const roll = seeded(seed + 11);
  return notes.flatMap((n): Played[] => {
    const luck = roll(1000);
    if (luck < 15) return [];
    const ms = Math.max(0, at(n.ms) + (roll(21) - 10));
    const key = luck < 25 && !n.drum ? n.key + 1 : n.key;
    return [{ ...n, ms, lengthMs: at(n.ms + n.lengthMs) - at(n.ms), key }];
  });
}
const rendered = (notes: readonly Played[], seed: number): Samples => {
  const end = notes.reduce((ms, n) => Math.max(ms, n.ms + n.lengthMs), 0) + 900;
  return { rate: RATE, channels: [otherSound(notes, end, seed)] };
};
function noisy({ rate, channels }: Samples, seed: number): Samples {
  const roll = seeded(seed + 99);
  const power = channels[0]!.reduce((s, x) => s + x * x, 0) / channels[0]!.length;
  const loud = Math.sqrt(power / 10) * 1.7;
  return { rate, channels: [channels[0]!.map((x) => x + loud * (roll(2001) / 1000 - 1))] };
}

function takes(song: Song, n: number): Take[] {
  const out: Take[] = [];
  const roll = seeded(n * 31 + 7);
  const late = 300 + roll(9000);
  const straight = (ms: number) => ms + late;
  const first = rendered(handed(song.notes, straight, n), n);
  out.push({ kind: 'offset', song, sound: first, at: straight, missing: null });
  if (process.argv[3] === 'wrong') return out;
  out.push({ kind: 'noise', song, sound: noisy(first, n), at: straight, missing: null });
  const ratio = n % 2 === 0 ? 1.06 : 0.94;
  const slower = (ms: number) => 800 + ms * ratio;
  out.push({
    kind: 'tempo',
    song,
    sound: rendered(handed(song.notes, slower, n), n),
    at: slower,
    missing: null,
  });
  const wander = (ms: number) =>
    1500 + ms + 1900 * Math.sin(ms / 26_000 + n) + 500 * Math.sin(ms / 9000) - 1900 * Math.sin(n);
  out.push({
    kind: 'wander',
    song,
    sound: rendered(handed(song.notes, wander, n), n),
    at: wander,
    missing: null,
  });
  // Eight bars of the middle are not there.
  const bar = Math.max(4, Math.floor(song.notes.length / 400) + 6);
  const [from, to] = [song.barMs(bar), song.barMs(bar + 8)];
  if (to < song.endMs - 8000) {
    const cut = (ms: number) => (ms < from ? ms + 500 : ms >= to ? ms - (to - from) + 500 : null);
    const left = song.notes.filter((x) => cut(x.ms) !== null && (x.ms >= to || x.ms + 1 < from));
    const played = handed(left, (ms) => (ms < from ? ms + 500 : ms - (to - from) + 500), n);
    const shortened = played.map((p) => ({
      ...p,
      lengthMs: Math.max(60, Math.min(8000, p.lengthMs)),
    }));
    out.push({
      kind: 'missing',
      song,
      sound: rendered(shortened, n),
      at: cut,
      missing: [from, to],
    });
  }
  return out;
}

const featureNotes = (song: Song): FeatureNote[] =>
  song.notes.map((n) => ({
    fromMs: n.ms,
    toMs: n.ms + n.lengthMs,
    key: n.key,
    velocity: n.velocity,
    drum: n.drum,
  }));

const heard = (sound: Samples) => {
  const novelty = noveltyOf(sound);
  return { features: soundFeatures(sound), onsets: onsetsOf(sound, novelty) };
};
const middle = (a: number[], q = 0.5) =>
  [...a].sort((x, y) => x - y)[Math.min(a.length - 1, Math.floor(a.length * q))] ?? NaN;

const SURE = 0.8;
const rows = new Map<
  string,
  {
    right: number;
    sure: number;
    sureRight: number;
    n: number;
    errors: number[];
    kinds: number;
    bars: number;
  }
>();
const listened = new Map<Song, ReturnType<typeof heard>>();
let spent = 0;
let audio = 0;
for (const [n, song] of all.entries()) {
  for (const take of takes(song, n)) {
    const from = performance.now();
    const sound = heard(take.sound);
    if (take.kind === 'offset') listened.set(song, sound);
    const found = align({ notes: featureNotes(song), scoreMs: song.endMs + 500, ...sound });
    spent += performance.now() - from;
    audio += (take.sound.channels[0]!.length / RATE) * 1000;
    const row = rows.get(take.kind) ?? {
      right: 0,
      sure: 0,
      sureRight: 0,
      n: 0,
      errors: [],
      kinds: 0,
      bars: 0,
    };
    rows.set(take.kind, row);
    row.n++;
    const errors = (found?.places ?? []).flatMap((p) => {
      const truth = take.at(p.scoreMs);
      return truth === null ? [] : [Math.abs(p.soundMs - truth)];
    });
    const signed = (found?.places ?? []).flatMap((p) => {
      const truth = take.at(p.scoreMs);
      return truth === null ? [] : [p.soundMs - truth];
    });
    const off = errors.length === 0 ? Infinity : middle(errors);
    const right = off < 30 && (found?.covered ?? 0) > 0.4;
    if (right) {
      row.right++;
      row.errors.push(
        take.kind === 'offset' || take.kind === 'noise'
          ? Math.abs(found!.offsetMs - take.at(0)!)
          : off,
      );
    }
    const expected = {
      offset: 'offset',
      noise: 'offset',
      tempo: 'tempo',
      wander: 'wander',
      missing: 'offset',
    }[take.kind];
    if (found?.kind === expected) row.kinds++;
    if (
      take.missing &&
      found?.jumps.some(
        (j) =>
          Math.abs(j.scoreFromMs - take.missing![0]) < 1200 &&
          Math.abs(j.scoreToMs - take.missing![1]) < 1200,
      )
    )
      row.bars++;
    if ((found?.confidence ?? 0) >= SURE) {
      row.sure++;
      if (right) row.sureRight++;
    }
    if (process.argv[3])
      console.log(
        song.name,
        take.kind,
        found &&
          `${found.kind} off ${off.toFixed(1)} signed ${middle(signed).toFixed(1)} song ${found.better.song.toFixed(2)} place ${found.better.place.toFixed(2)} cov ${found.covered.toFixed(2)} share ${found.share.toFixed(2)} conf ${found.confidence.toFixed(2)} jumps ${found.jumps.length}`,
      );
  }
}
const wrong: number[] = [];
for (const [n, song] of all.entries())
  for (const by of [1, 5, 11]) {
    const other = all[(n + by) % all.length]!;
    if (other === song) continue;
    const found = align({
      notes: featureNotes(song),
      scoreMs: song.endMs + 500,
      ...listened.get(other)!,
    });
    wrong.push(found?.confidence ?? 0);
    if (process.argv[3])
      console.log(
        'WRONG',
        song.name,
        '|',
        other.name,
        found &&
          `song ${found.better.song.toFixed(2)} place ${found.better.place.toFixed(2)} cov ${found.covered.toFixed(2)} share ${found.share.toFixed(2)} conf ${found.confidence.toFixed(2)}`,
      );
  }
console.log('| what | songs | right | kind | sure | sure and right | median ms | p95 ms | bars |');
console.log('| --- | --- | --- | --- | --- | --- | --- | --- | --- |');
for (const [kind, r] of rows)
  console.log(
    `| ${kind} | ${r.n} | ${r.right} | ${r.kinds} | ${r.sure} | ${r.sureRight} | ${middle(r.errors).toFixed(1)} | ${middle(r.errors, 0.95).toFixed(1)} | ${kind === 'missing' ? r.bars : ''} |`,
  );
console.log(
  `wrong pairs: ${wrong.length}, sure ${wrong.filter((c) => c >= SURE).length}, the surest ${Math.max(0, ...wrong).toFixed(2)}`,
);
console.log(`${(spent / (audio / 60_000) / 1000).toFixed(2)} s a minute of audio`);
