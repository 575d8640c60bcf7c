import { seeded } from '../demo/song';
import type { Sample } from '../src/core/sources/module/module';
import { hear } from '../src/core/sources/module/samples/role';
import { DRUM_ROLES, type SampleRole } from '../src/core/sources/module/samples/roles';

/**
 * What samples are told to be, without their names: `npm run bench sample-roles`. Sounds made with other
 * formulas than the demo's: other sweeps, filters, decays, bits and rates, played at other keys.
 */
const roll = seeded(7177);
const between = (low: number, high: number) => low + ((high - low) * roll(10_001)) / 10_000;
const pick = <T>(list: readonly T[]): T => list[roll(list.length)]!;

type Make = (t: number) => number;
const noise = () => roll(2001) / 1000 - 1;

/** One pole, low or high. */
function filtered(make: Make, rate: number, hz: number, high: boolean): Make {
  const a = Math.exp((-2 * Math.PI * hz) / rate);
  let low = 0;
  return (t) => {
    const x = make(t);
    low = (1 - a) * x + a * low;
    return high ? x - low : low;
  };
}

const sweep = (from: number, to: number, fast: number): Make => {
  let phase = 0;
  let last = 0;
  return (t) => {
    phase += (to + (from - to) * Math.exp(-t * fast)) * (t - last);
    last = t;
    return Math.sin(2 * Math.PI * phase);
  };
};

const wave = (hz: number): Make => {
  const kind = roll(4);
  const duty = between(0.1, 0.5);
  return (t) => {
    const turn = (t * hz) % 1;
    return kind === 0
      ? 2 * turn - 1
      : kind === 1
        ? turn < duty ? 0.8 : -0.8
        : kind === 2
          ? Math.sin(2 * Math.PI * turn) + 0.5 * Math.sin(4 * Math.PI * turn)
          : 4 * Math.abs(turn - 0.5) - 1;
  }; // prettier-ignore
};

interface Made {
  readonly seconds: number;
  readonly of: Make;
  readonly keys: number;
  readonly loop?: boolean;
}
const KINDS: Partial<Record<SampleRole, (rate: number) => Made>> = {
  'bass drum': () => {
    const body = sweep(between(120, 420), between(38, 75), between(18, 60));
    const decay = between(6, 16);
    const click = between(0, 0.3);
    return {
      seconds: between(0.2, 0.5),
      of: (t) => body(t) * Math.exp(-t * decay) + click * noise() * Math.exp(-t * 300),
      keys: 1,
    };
  },
  snare: (rate) => {
    const shell = sweep(between(230, 300), between(160, 220), 20);
    const hiss = filtered(noise, rate, between(600, 2000), true);
    const [tone, decay] = [between(0.1, 0.5), between(10, 24)];
    return {
      seconds: between(0.15, 0.4),
      of: (t) => (0.8 * hiss(t) + tone * shell(t)) * Math.exp(-t * decay),
      keys: pick([1, 1, 2]),
    };
  },
  hat: (rate) => {
    const hiss = filtered(filtered(noise, rate, 6500, true), rate, 5000, true);
    const decay = between(25, 80);
    return { seconds: between(0.06, 0.2), of: (t) => hiss(t) * Math.exp(-t * decay), keys: pick([1, 2]) };
  },
  cymbal: (rate) => {
    const hiss = filtered(filtered(noise, rate, 5000, true), rate, 3500, true);
    const decay = between(1.5, 4);
    return { seconds: between(1, 2), of: (t) => hiss(t) * Math.exp(-t * decay), keys: pick([1, 2]) };
  },
  tom: () => {
    const hz = between(90, 190);
    const body = sweep(hz * between(1.3, 1.8), hz, between(8, 20));
    const decay = between(6, 12);
    return { seconds: between(0.3, 0.6), of: (t) => body(t) * Math.exp(-t * decay), keys: pick([2, 3, 4]) };
  },
  bass: () => {
    const tone = wave(between(38, 90));
    const decay = between(0.5, 3);
    return { seconds: between(0.4, 1.2), of: (t) => tone(t) * Math.exp(-t * decay), keys: 3 + roll(6) };
  },
  lead: () => {
    const tone = wave(between(220, 900));
    const decay = between(0, 3);
    return { seconds: between(0.2, 1), of: (t) => tone(t) * Math.exp(-t * decay), keys: 4 + roll(9), loop: roll(2) === 0 };
  },
  chord: () => {
    const root = between(130, 330);
    const third = pick([3, 4]);
    const tones = [0, third, 7].map((n) => wave(root * 2 ** (n / 12)));
    const decay = between(0.5, 4);
    return {
      seconds: between(0.4, 1.4),
      of: (t) => (tones.reduce((s, tone) => s + tone(t), 0) / 3) * Math.exp(-t * decay),
      keys: 1 + roll(5),
    };
  },
}; // prettier-ignore

const table = new Map<SampleRole, Map<SampleRole, number>>();
let [drums, kinds, drumCount, all] = [0, 0, 0, 0];
for (const [role, make] of Object.entries(KINDS) as [SampleRole, (rate: number) => Made][])
  for (let i = 0; i < 40; i++) {
    const rate = pick([16_726, 22_050, 33_452, 44_100]);
    const made = make(rate);
    const eight = roll(2) === 0;
    let peak = 1e-6;
    const frames = Float32Array.from({ length: Math.round(rate * made.seconds) }, (_, n) =>
      made.of(n / rate),
    );
    for (const v of frames) peak = Math.max(peak, Math.abs(v));
    for (const [n, v] of frames.entries()) {
      const level = (v / peak) * 0.95;
      frames[n] = eight ? Math.round(level * 127) / 127 : level;
    }
    const sample: Sample = {
      name: '',
      frames,
      right: null,
      rate,
      volume: 64,
      gain: 1,
      pan: null,
      loop: made.loop ? { from: frames.length >> 1, to: frames.length, pingPong: false } : null,
      sustain: null,
      vibrato: null,
    };
    const keys = Array.from({ length: made.keys }, (_, k) => 56 + k * 2);
    const middleKey = keys[keys.length >> 1]!;
    const heard = hear(sample, { instrument: '', strikes: 30, keys, middleKey, held: made.seconds * 0.8 });
    const isDrum = DRUM_ROLES.has(role);
    all++;
    if (DRUM_ROLES.has(heard.role) === isDrum) drums++;
    if (isDrum) {
      drumCount++;
      if (heard.role === role) kinds++;
    }
    const row = table.get(role) ?? new Map<SampleRole, number>();
    row.set(heard.role, (row.get(heard.role) ?? 0) + 1);
    table.set(role, row);
  }
for (const [role, row] of table)
  console.log(`| ${role} | ${[...row].sort((a, b) => b[1] - a[1]).map(([r, n]) => `${r} ${n}`).join(', ')} |`); // prettier-ignore
console.log(
  `drum or not ${(drums / all).toFixed(3)}, kind of drum ${(kinds / drumCount).toFixed(3)}`,
);
