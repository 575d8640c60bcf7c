import { bandSongs } from '../../demo/band-songs';
import { seeded } from '../../demo/song';
import { mapsOf } from '../../src/core/score/inventory';
import { readScore } from '../../src/core/score/read-score';
import { align } from '../../src/core/sound/align/align';
import { soundFeatures, type FeatureNote } from '../../src/core/sound/align/features';
import { missingBars, sayBars } from '../../src/core/sound/align/jumps';
import { beatsOf } from '../../src/core/sound/beat';
import { noveltyOf, onsetsOf } from '../../src/core/sound/onsets';
import type { Samples } from '../../src/core/sound/samples';
import { otherSound, RATE, type Played } from './other-sound';

/** How recordings lie beside scores: other sounds, played as people play, altered, and wrong pairs. */
const every = Number(process.argv[2] ?? 1);
const MOST_MS = 100_000;
/** `align 4 v '' missing`: that kind of alteration alone, line by line, without wrong pairs. */
const oneKind = process.argv[5];

interface Song {
  readonly name: string;
  /** Where its quarters are. */
  readonly beats: readonly number[];
  readonly notes: readonly Played[];
  readonly barMs: (bar: number) => number;
  readonly maps: ReturnType<typeof mapsOf>;
  readonly endMs: number;
}

function songOf(name: string, bytes: Uint8Array): Song {
  const { score } = readScore(bytes, { sourceKey: 'main' });
  const maps = mapsOf(score!);
  const { clock, bars } = maps;
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
  const { division } = score!;
  const quarter = division.kind === 'ppq' ? division.ticksPerQuarter : 480;
  const beats: number[] = [];
  for (let ms = 0, k = 0; ms < endMs; ms = clock.msAt(++k * quarter)) beats.push(ms);
  return { name, beats, notes: kept, barMs: (bar) => clock.msAt(bars.barStart(bar)), maps, endMs };
}

const songs = bandSongs()
  .map((s) => songOf(s.name, s.bytes))
  .filter((s) => s.notes.length > 40);

/** Songs that are hard to follow: made of others, so that bars and beats are theirs. */
function hard(): Song[] {
  const of = (name: string) => songs.find((s) => s.name.startsWith(name))!;
  const band = of('loud-guitars');
  const still = of('organ-and-choir');
  const eight = band.barMs(8);
  const riff = band.notes.filter((n) => n.ms < band.barMs(2));
  const bars = (n: number) => (ms: number) => ms + band.barMs(2) * n;
  return [
    { ...band, name: 'drums alone', notes: band.notes.filter((n) => n.drum) },
    {
      ...still,
      name: 'ambient: held for bars, few begin',
      notes: still.notes
        .filter((_, i) => i % 4 === 0)
        .map((n) => ({ ...n, lengthMs: n.lengthMs * 3, program: 91 })),
    },
    { ...still, name: 'bells', notes: still.notes.map((n) => ({ ...n, program: 14 })) },
    {
      ...band,
      name: 'a riff of two bars, and a tune above it from bar 9',
      notes: Array.from({ length: 16 }, (_, k) => riff.map((n) => ({ ...n, ms: bars(k)(n.ms) })))
        .flat()
        .concat(
          band.notes
            .filter((n) => !n.drum && n.key > 60 && n.ms >= eight && n.ms < band.barMs(32))
            .map((n) => ({ ...n, velocity: Math.min(127, n.velocity + 15) })),
        )
        .sort((a, b) => a.ms - b.ms),
    },
  ];
}
const all = [...songs.filter((_, i) => i % every === 0), ...hard()].filter(
  (s) => !process.argv[4] || s.name.startsWith(process.argv[4]),
);

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

/** As it is heard through a wall: 900 Hz, two poles. */
function muffled({ rate, channels }: Samples): Samples {
  const by = 1 - Math.exp((-2 * Math.PI * 900) / rate);
  let [a, b] = [0, 0];
  return {
    rate,
    channels: [
      channels[0]!.map((x) => {
        a += by * (x - a);
        b += by * (a - b);
        return b;
      }),
    ],
  };
}

function takes(song: Song, n: number): Take[] {
  const out: Take[] = [];
  const roll = seeded(n * 31 + 7);
  const late = 300 + roll(9000);
  const straight = (ms: number) => ms + late;
  const first = rendered(handed(song.notes, straight, n), n);
  out.push({ kind: 'offset', song, sound: first, at: straight, missing: null });
  if (process.argv[3] === 'wrong') return out;
  out.push({ kind: 'low-pass', song, sound: muffled(first), at: straight, missing: null });
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
  const onsets = onsetsOf(sound, novelty);
  return { features: soundFeatures(sound), onsets, beat: beatsOf(novelty) };
};

/** How well what was found agrees with what is true, one to one within as much: twice the hits over all. */
function agreement(truth: readonly number[], found: ArrayLike<number>, withinMs: number): number {
  let [hits, j] = [0, 0];
  for (const ms of truth) {
    while (j < found.length && found[j]! < ms - withinMs) j++;
    if (j >= found.length || found[j]! > ms + withinMs) continue;
    hits++;
    j++;
  }
  return (2 * hits) / Math.max(1, found.length + truth.length);
}
const BEGIN_TOGETHER_MS = 30;
const heardBeats: { name: string; onsets: number; beats: number; sure: number }[] = [];
function tellBeats(song: Song, at: (ms: number) => number | null, sound: ReturnType<typeof heard>) {
  const begins: number[] = [];
  for (const { ms } of song.notes) {
    const here = at(ms)!;
    if (begins.length === 0 || here - begins.at(-1)! > BEGIN_TOGETHER_MS) begins.push(here);
  }
  const first = begins[0]! - 20;
  const beats = song.beats.map((ms) => at(ms)!).filter((ms) => ms >= first);
  // Half and double are the same beat for a hand that taps.
  const twice = beats.flatMap((ms, i) =>
    i + 1 < beats.length ? [ms, (ms + beats[i + 1]!) / 2] : [ms],
  );
  const ways = [
    beats,
    beats.filter((_, i) => i % 2 === 0),
    beats.filter((_, i) => i % 2 === 1),
    twice,
  ];
  heardBeats.push({
    name: song.name,
    onsets: agreement(begins, sound.onsets.ms, 25),
    beats: Math.max(...ways.map((way) => agreement(way, sound.beat?.ms ?? [], 70))),
    sure: sound.beat?.confidence ?? 0,
  });
}
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
    if (oneKind && take.kind !== oneKind) continue;
    const from = performance.now();
    const sound = heard(take.sound);
    if (take.kind === 'offset') {
      listened.set(song, sound);
      tellBeats(song, take.at, sound);
    }
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
        ['offset', 'noise', 'low-pass'].includes(take.kind)
          ? Math.abs(found!.offsetMs - take.at(0)!)
          : off,
      );
    }
    const expected = {
      offset: 'offset',
      noise: 'offset',
      'low-pass': 'offset',
      tempo: 'tempo',
      wander: 'wander',
      missing: 'offset',
    }[take.kind];
    if (found?.kind === expected) row.kinds++;
    // As they are told: from which bar on, and how many.
    const named = (found?.jumps ?? []).flatMap((j) => missingBars(song.maps, j) ?? []);
    const lacks = named.some(
      (b) => Math.abs(song.barMs(b.fromBar - 1) - (take.missing?.[0] ?? NaN)) < 1 && b.bars === 8,
    );
    if (lacks) row.bars++;
    if ((found?.confidence ?? 0) >= SURE) {
      row.sure++;
      if (right) row.sureRight++;
    }
    if (process.argv[3])
      console.log(
        song.name,
        take.kind,
        take.missing ? `${take.missing.map(Math.round).join('–')} ${lacks}` : '',
        named.map(sayBars).join(', '),
        found &&
          `${found.kind} off ${off.toFixed(1)} signed ${middle(signed).toFixed(1)} song ${found.better.song.toFixed(2)} place ${found.better.place.toFixed(2)} cov ${found.covered.toFixed(2)} share ${found.share.toFixed(2)} conf ${found.confidence.toFixed(2)} jumps ${found.jumps.map((j) => [j.scoreFromMs, j.scoreToMs, j.soundFromMs, j.soundToMs, j.beforeMs, j.afterMs].map(Math.round).join(' ')).join(' | ')} ratio ${found.ratio.toFixed(4)}`,
      );
  }
}
/** Hard songs are made of others. */
const sameMusic = (a: string, b: string) => {
  const of = (name: string) => {
    if (/^(drums|a riff|loud)/.test(name)) return 'band';
    return /^(ambient|bells|organ)/.test(name) ? 'still' : name;
  };
  return of(a) === of(b);
};
const wrong: number[] = [];
for (const [n, song] of all.entries())
  for (const by of oneKind ? [] : [1, 2, 3, 5, 7, 11, 13, 17]) {
    const other = all[(n + by) % all.length]!;
    if (other === song || sameMusic(other.name, song.name)) continue;
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
const mean = (a: readonly number[]) => a.reduce((x, y) => x + y, 0) / Math.max(1, a.length);
console.log('| song | beginnings within 25 ms | beats within 70 ms | sure of the beat |');
console.log('| --- | --- | --- | --- |');
for (const b of heardBeats)
  console.log(
    `| ${b.name} | ${b.onsets.toFixed(2)} | ${b.beats.toFixed(2)} | ${b.sure.toFixed(2)} |`,
  );
console.log(
  `mean: beginnings ${mean(heardBeats.map((b) => b.onsets)).toFixed(3)}, beats ${mean(heardBeats.map((b) => b.beats)).toFixed(3)}`,
);
console.log(`${(spent / (audio / 60_000) / 1000).toFixed(2)} s a minute of audio`);
