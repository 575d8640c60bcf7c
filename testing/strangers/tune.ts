import { META_LYRIC, seeded, smf, Track } from '../../demo/song';
import type { SourceScore } from '../../src/core/sources/source';
import { sourceFromBytes } from '../score-builder';

/** A tune as plain numbers, so that a rule can be judged, and kept, without anything of the desk. */
export interface Tune {
  name: string;
  format: 0 | 1;
  ppq: number;
  tempos: [tick: number, us: number][];
  meters: [tick: number, numerator: number, denominator: number][];
  markers: [tick: number, text: string][];
  lyrics: [tick: number, text: string][];
  sysex: boolean;
  /** Where each track ends, or where the last event of each stands. */
  endTick: number | null;
  lines: Line[];
}
export interface Line {
  name: string;
  channel: number;
  notes: { start: number; length: number; key: number; velocity: number }[];
  programs: [tick: number, program: number][];
  controls: [tick: number, controller: number, value: number][];
  bends: [tick: number, value: number][];
}

export type Roll = ReturnType<typeof dice>;
/** Chances by a seed. */
export function dice(seed: number) {
  const next = seeded(seed);
  for (let i = 0; i < 20; i++) next(9);
  const below = (n: number) => next(n);
  return {
    below,
    between: (a: number, b: number) => a + below(b - a + 1),
    chance: (percent: number) => below(100) < percent,
    pick: <T>(list: readonly T[]): T => list[below(list.length)]!,
  };
}

const DRUMS = [35, 36, 37, 38, 39, 40, 41, 42, 43, 45, 46, 47, 49, 51, 53, 54, 56];
const NAMES = ['Reeds', 'Low line', 'Pads', 'Kit', 'Squeeze', 'Horns', 'Strings', 'Solo', 'Harp'];
const MARKS = [
  'Verse',
  'Tide',
  'Bridge',
  'Quay',
  'Outro',
  'Long walk back to the pier',
  'Gezeiten',
];
/** A marker beyond ASCII, as people write them. */
const STRANGE = ['Ebbe – Flut', 'Café', 'Überfahrt'];

/** One tune of any kind: played or stepped, with much or little beside its notes. */
export function anyTune(
  { below, between, chance, pick }: Roll,
  name: string,
  [fewest, most]: readonly [bars: number, bars: number] = [8, 40],
): Tune {
  const ppq = pick([96, 120, 192, 240, 384, 480, 480, 480, 960]);
  const meters: Tune['meters'] = [
    [
      0,
      ...pick([
        [4, 4],
        [4, 4],
        [4, 4],
        [3, 4],
        [6, 8],
      ] as const),
    ],
  ];
  const bar = (ppq * 4 * meters[0]![1]) / meters[0]![2];
  const bars = between(fewest, most);
  if (chance(15))
    meters.push([
      bar * between(2, bars - 2),
      ...pick([
        [2, 4],
        [4, 4],
        [3, 4],
      ] as const),
    ]);
  const bpm = chance(60) ? between(60, 190) : between(6000, 19000) / 100;
  const tempos: Tune['tempos'] = [[0, Math.round(60e6 / bpm)]];
  if (chance(40))
    for (let i = 0; i < between(1, 12); i++)
      tempos.push([
        bar * between(1, bars - 1),
        Math.round(60e6 / (bpm * (between(80, 120) / 100))),
      ]);
  tempos.sort((a, b) => a[0] - b[0]);
  const played = chance(40);
  const step = pick([ppq / 4, ppq / 4, ppq / 2, ppq / 3]);
  const lead = chance(35) ? 0 : chance(50) ? bar * between(1, 2) : step * between(1, 9);
  const lines: Line[] = [];
  const channels = [1, 2, 3, 4, 5, 6, 7, 8, 11, 14];
  let hasKit: boolean = false;
  for (let n = between(1, 6); n > 0; n--) {
    const isKit: boolean = !hasKit && chance(25);
    hasKit ||= isKit;
    const channel = isKit ? 10 : channels.splice(below(channels.length), 1)[0]!;
    const home = between(40, 76);
    const chord = isKit ? pick([1, 2]) : pick([1, 1, 1, 2, 3, 4]);
    const reach = between(4, 14);
    const loud = between(60, 110);
    const spread = pick([0, 8, 20]);
    const line: Line = {
      name: pick(NAMES),
      channel,
      notes: [],
      programs: [],
      controls: [],
      bends: [],
    };
    const legato = between(30, 110) / 100;
    let key = home;
    for (let at = lead; at < bars * bar - step; at += step * pick([1, 1, 2, 2, 3, 4])) {
      if (chance(8)) at += bar;
      const loose = played ? between(-Math.ceil(ppq / 30), Math.ceil(ppq / 30)) : 0;
      key = isKit
        ? pick(DRUMS)
        : Math.min(home + reach, Math.max(home - reach, key + between(-5, 5)));
      for (let c = 0; c < chord; c++)
        line.notes.push({
          start: Math.max(0, Math.round(at + loose + (played && c ? between(0, 6) : 0))),
          length: Math.max(1, Math.round(step * legato * (chord > 1 ? 2 : pick([1, 1, 2])))),
          key: Math.min(127, isKit ? (c ? pick(DRUMS) : key) : key + c * pick([3, 4, 5])),
          velocity: Math.min(127, Math.max(1, loud + (spread ? between(-spread, spread) : 0))),
        });
    }
    if (chance(75)) line.programs.push([0, below(128)]);
    if (chance(10)) line.programs.push([bar * between(1, bars - 1), below(128)]);
    if (chance(55))
      for (const c of pick([[7], [7, 10], [7, 10, 91], [11]]))
        line.controls.push([0, c, between(30, 120)]);
    if (chance(30))
      for (let i = 0; i < between(4, 60); i++)
        line.controls.push([between(0, bars * bar), pick([1, 11, 64, 74]), below(128)]);
    if (chance(15))
      for (let i = 0; i < 12; i++) line.bends.push([between(0, bars * bar), below(16384)]);
    lines.push(line);
  }
  const last = Math.max(...lines.flatMap((l) => l.notes.map((n) => n.start + n.length)));
  return {
    name,
    format: chance(25) ? 0 : 1,
    ppq,
    tempos,
    meters,
    markers: chance(35)
      ? Array.from({ length: between(1, 5) }, () => [
          bar * below(bars),
          pick(chance(20) ? STRANGE : MARKS),
        ])
      : [],
    lyrics: chance(15) ? Array.from({ length: 8 }, (_, i) => [bar * i, 'la']) : [],
    sysex: chance(15),
    endTick: chance(40) ? Math.ceil(last / bar) * bar + (chance(30) ? bar : 0) : null,
    lines,
  };
}

export function bytesOf(t: Tune): Uint8Array {
  const head = new Track();
  for (const [tick, us] of t.tempos) head.tempoUs(tick, us);
  for (const m of t.meters) head.meter(...m);
  for (const m of t.markers) head.marker(...m);
  for (const [tick, text] of t.lyrics) head.text(tick, META_LYRIC, text);
  if (t.sysex) head.sysex(0, [0x7e, 0x7f, 9, 1, 0xf7]);
  const tracks = t.lines.map((l) => {
    const track = t.format === 0 ? head : new Track(l.name);
    for (const p of l.programs) track.program(p[0], l.channel, p[1]);
    for (const c of l.controls) track.control(c[0], l.channel, c[1], c[2]);
    for (const [tick, value] of l.bends)
      track.event(tick, 0xe0, l.channel, value & 127, value >> 7);
    for (const n of l.notes) track.note(l.channel, n.start, n.length, n.key, n.velocity);
    return track;
  });
  return smf(t.format, t.ppq, t.format === 0 ? [head] : [head, ...tracks], t.endTick ?? undefined);
}

export const sourceOf = (t: Tune): SourceScore => sourceFromBytes(bytesOf(t), t.name);

/** All notes with their channels, by start. */
export const notesOf = (t: Tune) =>
  t.lines
    .flatMap((line) =>
      line.notes.map((n) => ({ ...n, end: n.start + n.length, channel: line.channel })),
    )
    .sort((a, b) => a.start - b.start || a.key - b.key);

/** Milliseconds at a tick: summed tempo by tempo. */
export function msAt(t: Tune, tick: number): number {
  let ms = 0;
  let at = 0;
  let us = 500_000;
  for (const [from, next] of t.tempos) {
    if (from >= tick) break;
    ms += ((from - at) * us) / t.ppq / 1000;
    [at, us] = [from, next];
  }
  return ms + ((tick - at) * us) / t.ppq / 1000;
}

export const barOf = (t: Tune): number => (t.ppq * 4 * t.meters[0]![1]) / t.meters[0]![2];
/** The last tick of all events, or of the file where it says one. */
export const endOf = (t: Tune): number =>
  Math.max(
    t.endTick ?? 0,
    ...notesOf(t).map((n) => n.end),
    ...t.tempos.map((x) => x[0]),
    ...t.meters.map((x) => x[0]),
    ...t.markers.map((x) => x[0]),
    ...t.lyrics.map((x) => x[0]),
    ...t.lines.flatMap((l) => [...l.programs, ...l.controls, ...l.bends].map((x) => x[0])),
  );
/** All later by as many ticks; what stands at tick 0 stays. */
export function later(t: Tune, ticks: number): void {
  const by = (list: [number, ...unknown[]][]) => {
    for (const x of list) if (x[0] > 0) x[0] += ticks;
  };
  for (const l of t.lines) {
    for (const n of l.notes) n.start += ticks;
    by(l.programs);
    by(l.controls);
    by(l.bends);
  }
  by(t.tempos);
  by(t.meters);
  by(t.markers);
  by(t.lyrics);
  if (t.endTick !== null) t.endTick += ticks;
}
