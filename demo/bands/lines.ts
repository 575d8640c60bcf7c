import { degree, seeded } from '../song';
import { Band, FIGURES, Player, triad } from './band';

interface Line {
  bar: number;
  at: number;
  long: number;
  step: number;
}

/** A tune: phrases of four bars that come back changed at their ends; a rest between phrases. */
export function tuneOf(b: Band, from: number, to: number, seed: number, busy = 1): Line[] {
  const out: Line[] = [];
  const motif = seeded(seed * 7 + 3);
  const rhythm = [0, 1, 2, 3].map(() => FIGURES[motif(FIGURES.length)]!);
  const shape = Array.from({ length: 40 }, () => motif(5) - 2);
  let step = 4 + motif(3);
  for (let bar = from; bar < to; bar++) {
    const inPhrase = (bar - from) % 4;
    const figure =
      inPhrase === 3 ? FIGURES[4]! : rhythm[((bar - from) >> 3) % 2 ? 3 - inPhrase : inPhrase]!;
    for (let i = 0; i + 1 < figure.length; i += 2) {
      const at = (figure[i]! / 8) * b.beats;
      const long = (figure[i + 1]! / 8) * b.beats;
      if (inPhrase === 3 && at > b.beats * 0.7) continue;
      const chordal = [0, 2, 4, 7, 9].map((d) => b.chord(bar) + d);
      step += shape[(inPhrase * 11 + i) % shape.length]!;
      step = Math.max(0, Math.min(13, step));
      const near = chordal.reduce((x, y) => (Math.abs(y - step) < Math.abs(x - step) ? y : x));
      if (at === 0 || inPhrase === 3) step = near;
      if (busy > 1 && long >= 1 && i % 4 === 0) {
        out.push(
          { bar, at, long: long / 2, step },
          { bar, at: at + long / 2, long: long / 2, step: step + 1 },
        );
      } else out.push({ bar, at, long: long * 0.92, step });
    }
  }
  return out;
}

export const play = (
  p: Player,
  b: Band,
  line: readonly Line[],
  root: number,
  velocity: number,
  up = 0,
) => line.forEach((n) => p.hit(n.bar, n.at, n.long, degree(b.mode, root, n.step + up), velocity));

/** The root again and again, with fifths and steps to the next. */
export function bassLine(
  p: Player,
  b: Band,
  style: 'roots' | 'walk' | 'octaves' | 'oom',
  from = 4,
) {
  // In the key of the band, from E1 up.
  const low = 28 + ((((b.root - 28) % 12) + 12) % 12);
  for (let bar = from; bar < b.bars; bar++) {
    const c = b.chord(bar);
    for (let q = 0; q < b.beats; q++) {
      const key = (d: number) =>
        degree(b.mode, low, c + d) - (degree(b.mode, low, c) > 44 ? 12 : 0);
      if (style === 'walk') p.hit(bar, q, 0.9, key([0, 2, 4, 6, 5][(q + bar) % 5]!), 88);
      else if (style === 'octaves') {
        p.hit(bar, q, 0.4, key(0), 92);
        p.hit(bar, q + 0.5, 0.4, key(0) + 12, 84);
      } else if (style === 'oom') {
        if (q === 0 || (q === 2 && b.beats === 4)) p.hit(bar, q, 0.8, key(q === 0 ? 0 : -3), 94);
      } else if (q === 0) p.hit(bar, q, 1.4, key(0), 94);
      else if (q === 2 || b.roll(3) === 0) p.hit(bar, q, 0.8, key(q === 2 ? 0 : 4), 84);
    }
  }
}

export function kit(
  p: Player,
  b: Band,
  style: 'rock' | 'swing' | 'four' | 'march' | 'waltz',
  from = 2,
) {
  for (let bar = from; bar < b.bars; bar++) {
    const loud = b.section(bar) === 1 ? 10 : 0;
    for (let q = 0; q < b.beats; q++) {
      if (style === 'rock' || style === 'four') {
        const hat = b.section(bar) === 1 && style === 'rock' ? 51 : 42;
        p.hit(bar, q, 0.2, hat, 74 + loud);
        p.hit(bar, q + 0.5, 0.2, style === 'four' ? 46 : hat, 62 + loud);
        if (style === 'four' || q === 0 || (q === 2 && b.roll(2) === 0))
          p.hit(bar, q, 0.2, 36, 104);
        if (q % 2 === 1) p.hit(bar, q, 0.2, style === 'four' ? 39 : 38, 100 + loud);
      } else if (style === 'swing') {
        p.hit(bar, q, 0.2, 51, 80);
        if (q % 2 === 1) {
          p.hit(bar, q + 0.5, 0.2, 51, 64);
          p.hit(bar, q, 0.2, 44, 70);
        }
        if (b.roll(5) === 0) p.hit(bar, q + 0.5, 0.2, 38, 50);
      } else if (style === 'march') {
        p.hit(bar, q, 0.2, q % 2 === 0 ? 36 : 38, 96);
        for (let s = 0; s < 4; s++)
          if (q === 3 || b.roll(3) === 0) p.hit(bar, q + s / 4, 0.1, 38, 60);
      } else p.hit(bar, q, 0.2, q === 0 ? 36 : 37, q === 0 ? 96 : 60);
    }
    if (bar % 8 === 3)
      for (let s = 0; s < 6; s++) p.hit(bar, b.beats - 1.5 + s / 4, 0.2, 50 - s, 98);
    if (bar % 8 === 4) p.hit(bar, 0, 1, 49, 108);
  }
}

export const range = (from: number, to: number) =>
  Array.from({ length: Math.max(0, to - from) }, (_, i) => from + i);

export const pad = (p: Player, b: Band, low: number, velocity = 58, from = 0, notes = 3) =>
  range(from, b.bars).forEach((bar) =>
    p.chord(bar, 0, b.beats * 0.98, triad(b, bar, low, notes), velocity),
  );
