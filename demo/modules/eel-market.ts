import { seeded } from '../song';
import type { Tune, TuneCell, TuneSample } from './tune';

/**
 * “Eel market”: a module of somebody who works with what a box of samples holds. The bass was sampled in
 * G, a chord is one sample, the beat is a loop of its own, the lead plays loudly and, a channel further
 * and later, quietly as its own echo; a tom runs down.
 */
const RATE = 16_726;

const made = (seconds: number, of: (t: number) => number): Float32Array =>
  Float32Array.from({ length: Math.round(RATE * seconds) }, (_, n) => of(n / RATE));
const saw = (turn: number) => 2 * (turn - Math.floor(turn)) - 1;

function samples(): TuneSample[] {
  const roll = seeded(411);
  const noise = () => roll(2001) / 1000 - 1;
  let before = 0;
  const hiss = () => {
    const now = noise();
    const out = (now - before) / 2;
    before = now;
    return out;
  };
  const thump = (t: number) =>
    0.9 * Math.sin(2 * Math.PI * (52 * t + 5 * (1 - Math.exp(-t * 32)))) * Math.exp(-t * 13);
  const crack = (t: number) =>
    (0.5 * noise() + 0.3 * Math.sin(2 * Math.PI * 185 * t)) * Math.exp(-t * 18);
  const tick = (t: number) => 0.5 * hiss() * Math.exp(-t * 50);
  const eighth = 60 / 125 / 2;
  return [
    {
      name: 'Bollard bass in G',
      rate: RATE,
      frames: made(0.9, (t) => {
        let v = 0;
        for (let h = 1; h < 9; h++) v += Math.sin(2 * Math.PI * 98 * h * t) / h;
        return 0.45 * v * Math.exp(-t * 2.2);
      }),
      envelope: [[0, 64], [20, 50], [60, 0]],
      fade: 2000,
    },
    {
      name: 'Jetty minor chord',
      rate: RATE,
      frames: made(1.1, (t) => {
        let v = 0;
        for (const hz of [261.63, 311.13, 392]) v += Math.sin(2 * Math.PI * hz * t);
        return 0.28 * v * Math.exp(-t * 2);
      }),
      volume: 44,
    },
    {
      name: 'Market loop 125',
      rate: RATE,
      frames: made(eighth * 8, (t) => {
        const step = Math.floor(t / eighth);
        const at = t - step * eighth;
        let v = tick(at);
        if (step === 0 || step === 3) v += thump(at);
        if (step === 2 || step === 6) v += crack(at);
        return Math.max(-1, Math.min(1, v));
      }),
      volume: 56,
    },
    {
      name: 'Gull lead',
      rate: RATE,
      frames: made(0.25, (t) => 0.6 * (saw(261.63 * t) + 0.5 * saw(263 * t))),
      loop: [Math.round(RATE * 0.1), Math.round(RATE * 0.1) + 64 * 12],
      volume: 56,
    },
    {
      name: 'Barrel tom',
      rate: RATE,
      frames: made(
        0.45,
        (t) => Math.sin(2 * Math.PI * (130 * t + 5 * (1 - Math.exp(-t * 12)))) * Math.exp(-t * 8),
      ),
    },
    { name: 'Deck thump bd', rate: RATE, frames: made(0.35, thump) },
    { name: 'Rigging hat', rate: RATE, frames: made(0.12, tick), volume: 40 },
  ]; // prettier-ignore
}

const [BASS, CHORD, LOOP, LEAD, TOM, THUMP, HAT] = [1, 2, 3, 4, 5, 6, 7];

/** A round of four bars: where the bass stands (the samples’ own C is G), and the tune above. */
const ROOTS = [53, 56, 48, 51];
const TUNE: readonly (readonly [row: number, key: number])[] = [
  [0, 72], [6, 75], [8, 77], [12, 75], [16, 79], [24, 77], [28, 75],
  [32, 72], [38, 70], [40, 67], [44, 70], [48, 72], [56, 75], [60, 70],
]; // prettier-ignore

function pattern(kind: 'in' | 'tune' | 'answer' | 'out'): (TuneCell | null)[][] {
  const rows: (TuneCell | null)[][] = Array.from({ length: 64 }, () =>
    Array.from({ length: 8 }, () => null),
  );
  const put = (row: number, channel: number, cell: TuneCell) => {
    if (row < 64) rows[row]![channel] = { ...rows[row]![channel], ...cell };
  };
  for (let bar = 0; bar < 4; bar++) {
    const root = ROOTS[bar]!;
    for (const at of [0, 6, 8, 14])
      put(bar * 16 + at, 0, { note: at === 14 ? root + 7 : root, sample: BASS });
    if (kind !== 'in') {
      put(bar * 16 + 4, 1, { note: root + 7, sample: CHORD });
      put(bar * 16 + 12, 1, { note: root + 7, sample: CHORD, fx: ['A', 0x02] });
    }
    if (kind === 'tune' || kind === 'answer')
      for (const at of [0, 8]) if (at === 0) put(bar * 16, 2, { note: 60, sample: LOOP });
    if (kind === 'in' || kind === 'out') {
      for (let at = 0; at < 16; at += 4) put(bar * 16 + at, 3, { note: 60, sample: THUMP });
      for (let at = 2; at < 16; at += 4) put(bar * 16 + at, 4, { note: 72, sample: HAT });
    }
  }
  if (kind === 'tune' || kind === 'answer')
    TUNE.forEach(([row, key], i) => {
      const up = kind === 'answer' && i > 9 ? 12 : 0;
      const slides = i === 4;
      put(row, 5, {
        note: key + up,
        sample: LEAD,
        ...(slides
          ? { fx: ['3', 0x20] as const }
          : i % 5 === 1
            ? { fx: ['4', 0x46] as const }
            : {}),
      });
      // The echo: a dotted eighth later, a third as loud.
      put(row + 3, 6, { note: key + up, sample: LEAD, volume: 0x10 + 17 });
      if (i === TUNE.length - 1) put(row + 3, 5, { note: 'off' });
    });
  if (kind === 'out') put(3, 6, { note: 'off' });
  if (kind === 'answer')
    [67, 65, 63, 60, 58, 55].forEach((key, i) => put(52 + i * 2, 7, { note: key, sample: TOM }));
  return rows;
}

export const eelMarket = (): Tune => ({
  name: 'Eel market',
  channels: 8,
  speed: 6,
  tempo: 125,
  orders: [0, 1, 2, 1, 2, 3],
  patterns: [pattern('in'), pattern('tune'), pattern('answer'), pattern('out')],
  samples: samples(),
});
