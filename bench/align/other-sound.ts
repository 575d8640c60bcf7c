import { seeded } from '../../demo/song';

/*
 * Other timbres than the ones that ship: attacks, overtones, choruses and a room of their own, so that
 * what listens is not measured by the sounds it was made with.
 */

export interface Played {
  readonly ms: number;
  readonly lengthMs: number;
  readonly key: number;
  readonly velocity: number;
  readonly drum: boolean;
  readonly program: number;
}

interface Timbre {
  readonly attackMs: number;
  readonly fallMs: number;
  /** 0: it dies away; 1: it is held. */
  readonly held: number;
  readonly overtones: readonly (readonly [number, number])[];
  readonly chorus: number;
  readonly vibrato: number;
}

const TIMBRES: readonly (readonly [number, Timbre])[] = [
  [
    7,
    {
      attackMs: 4,
      fallMs: 700,
      held: 0,
      overtones: [
        [1, 1],
        [2.003, 0.5],
        [3.01, 0.3],
        [4.02, 0.2],
        [5.05, 0.1],
      ],
      chorus: 0,
      vibrato: 0,
    },
  ],
  [
    15,
    {
      attackMs: 2,
      fallMs: 1600,
      held: 0,
      overtones: [
        [1, 1],
        [2.76, 0.6],
        [5.4, 0.35],
        [8.9, 0.2],
      ],
      chorus: 0,
      vibrato: 0,
    },
  ],
  [
    23,
    {
      attackMs: 12,
      fallMs: 100,
      held: 1,
      overtones: [
        [0.5, 0.4],
        [1, 1],
        [2, 0.7],
        [3, 0.4],
        [4, 0.3],
        [8, 0.2],
      ],
      chorus: 0,
      vibrato: 0,
    },
  ],
  [
    31,
    {
      attackMs: 6,
      fallMs: 500,
      held: 0.15,
      overtones: [
        [1, 1],
        [2, 0.6],
        [3, 0.5],
        [4, 0.35],
        [5, 0.2],
      ],
      chorus: 0,
      vibrato: 0,
    },
  ],
  [
    39,
    {
      attackMs: 9,
      fallMs: 600,
      held: 0.3,
      overtones: [
        [1, 1],
        [2, 0.4],
        [3, 0.15],
      ],
      chorus: 0,
      vibrato: 0,
    },
  ],
  [
    55,
    {
      attackMs: 90,
      fallMs: 300,
      held: 1,
      overtones: [
        [1, 1],
        [2, 0.6],
        [3, 0.45],
        [4, 0.3],
        [5, 0.25],
        [6, 0.15],
      ],
      chorus: 1,
      vibrato: 0.004,
    },
  ],
  [
    63,
    {
      attackMs: 40,
      fallMs: 300,
      held: 0.9,
      overtones: [
        [1, 0.7],
        [2, 1],
        [3, 0.8],
        [4, 0.5],
        [5, 0.35],
      ],
      chorus: 0,
      vibrato: 0.003,
    },
  ],
  [
    79,
    {
      attackMs: 55,
      fallMs: 300,
      held: 0.95,
      overtones: [
        [1, 1],
        [2, 0.25],
        [3, 0.3],
      ],
      chorus: 0,
      vibrato: 0.006,
    },
  ],
  [
    87,
    {
      attackMs: 15,
      fallMs: 300,
      held: 0.9,
      overtones: [
        [1, 1],
        [2, 0.5],
        [3, 0.33],
        [4, 0.25],
        [5, 0.2],
        [6, 0.17],
      ],
      chorus: 0,
      vibrato: 0.002,
    },
  ],
  [
    127,
    {
      attackMs: 180,
      fallMs: 300,
      held: 1,
      overtones: [
        [1, 1],
        [2, 0.4],
        [3, 0.3],
        [4, 0.2],
      ],
      chorus: 1,
      vibrato: 0.003,
    },
  ],
];
const timbreOf = (program: number) => TIMBRES.find(([last]) => program <= last)![1];

export const RATE = 22_050;

/** Notes as an ensemble of other sounds plays them, in a room. */
export function otherSound(notes: readonly Played[], lengthMs: number, seed = 3): Float32Array {
  const frames = Math.ceil((lengthMs * RATE) / 1000);
  const dry = new Float32Array(frames);
  const roll = seeded(seed * 977 + 5);
  for (const note of notes) (note.drum ? drum : tone)(dry, note, roll);
  return room(dry);
}

function tone(
  to: Float32Array,
  { ms, lengthMs, key, velocity, program }: Played,
  roll: (n: number) => number,
) {
  const t = timbreOf(program);
  const from = Math.round((ms * RATE) / 1000);
  const release = 0.08 * RATE;
  const held = Math.round((Math.min(lengthMs, 6000) * RATE) / 1000);
  const count = Math.min(to.length - from, held + release);
  const voices = t.chorus > 0 ? [-0.004, 0.0035] : [0];
  const loud = (velocity / 127) ** 1.6 * 0.09;
  const attack = Math.max(8, (t.attackMs * RATE) / 1000);
  const fall = (t.fallMs * RATE) / 1000;
  for (const detune of voices)
    for (const [ratio, share] of t.overtones) {
      const hz = 440 * 2 ** ((key - 69) / 12) * ratio * (1 + detune + (roll(100) - 50) / 1e5);
      if (hz > RATE * 0.45) continue;
      let phase = roll(1000) / 1000;
      for (let i = 0; i < count; i++) {
        phase += (hz / RATE) * (1 + t.vibrato * Math.sin((i * 2 * Math.PI * 5.2) / RATE));
        const decay = t.held + (1 - t.held) * Math.exp(-i / (fall / Math.sqrt(ratio)));
        const env =
          Math.min(1, i / attack) * decay * (i < held ? 1 : Math.max(0, 1 - (i - held) / release));
        to[from + i]! += (Math.sin(phase * 2 * Math.PI) * env * loud * share) / voices.length;
      }
    }
}

function drum(to: Float32Array, { ms, key, velocity }: Played, roll: (n: number) => number) {
  const from = Math.round((ms * RATE) / 1000);
  const loud = (velocity / 127) ** 1.5 * 0.35;
  const low = key === 35 || key === 36;
  const tom = key === 41 || key === 43 || key === 45 || key === 47 || key === 48 || key === 50;
  const long =
    key === 49 || key === 57 || key === 51 ? 0.5 : low || tom ? 0.16 : key === 46 ? 0.25 : 0.06;
  const count = Math.min(to.length - from, Math.round(long * 4 * RATE));
  let last = 0;
  for (let i = 0; i < count; i++) {
    const env = Math.exp(-i / (long * RATE));
    const white = roll(2001) / 1000 - 1;
    const bright = white - last;
    last = white;
    const body =
      low || tom
        ? Math.sin(((low ? 52 : 110) * i * 2 * Math.PI) / RATE + 4 * Math.exp(-i / 200))
        : 0;
    const noise = low
      ? 0.1 * white
      : tom
        ? 0.25 * white
        : key === 38 || key === 40
          ? 0.7 * white
          : 0.5 * bright;
    to[from + i]! += (body + noise) * env * loud;
  }
}

/** Four delays that feed each other back, a fifth of it: a room of about a second. */
function room(dry: Float32Array): Float32Array {
  const out = dry.slice();
  for (const [delayMs, back] of [
    [29.7, 0.72],
    [37.1, 0.7],
    [41.1, 0.68],
    [43.7, 0.66],
  ] as const) {
    const delay = Math.round((delayMs * RATE) / 1000);
    const line = new Float32Array(delay);
    let at = 0;
    for (let i = 0; i < dry.length; i++) {
      const wet = line[at]!;
      line[at] = dry[i]! + wet * back;
      at = (at + 1) % delay;
      out[i]! += wet * 0.07;
    }
  }
  return out;
}
