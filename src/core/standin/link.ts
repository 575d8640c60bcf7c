import { ownCrc16, ownCrc32 } from './sums';

/**
 * The far end of the sound link: works from samples alone. It finds the leader, keeps to the speed
 * that it hears, and reads a bit a cycle of 1,200 Hz by which of two tones is in it.
 */
export interface LinkHeard {
  readonly patterns: number;
  readonly files: readonly { readonly path: string; readonly bytes: Uint8Array }[];
  /** Numbers of frames that came garbled or not at all. */
  readonly missing: readonly number[];
  readonly problem: string | null;
  /** How fast it runs beside its nominal speed. */
  readonly speed: number;
  /** Each frame as it came, in order of time. */
  readonly frames: readonly LinkFrame[];
  /** Frames in all, where the first one was read. */
  readonly total: number | null;
}

export interface LinkFrame {
  /** Its number, where its sum agrees. */
  readonly number: number | null;
  readonly endMs: number;
}

const LOW = 1200;
const SLOWEST = 0.965;
const FASTEST = 1.035;
const SYNC = 0x91d3;

/** A pass of the link as bits; `memory` carries frames over to a second pass. */
export function hearLink(
  samples: Float32Array,
  rate: number,
  memory: Map<number, Uint8Array> = new Map(),
): LinkHeard {
  const leader = findLeader(samples, rate);
  if (!leader) return nothing('No leader of 1,200 Hz is heard.');
  const { speed } = leader;
  if (speed < SLOWEST || speed > FASTEST)
    return nothing(`It runs at ${(speed * 100).toFixed(1)} % of its speed.`);
  const before = memory.size;
  const bitMs = 1000 / (LOW * speed);
  const timed = (at: number) => (bit: number) => (at / rate) * 1000 + bit * bitMs;
  let frames = collect(demodulate(samples, rate, leader), memory, timed(leader.at));
  // The leader of an inverted wave looks like one half a cycle later: cycles begin there then.
  if (memory.size === before) {
    const half = rate / (LOW * speed) / 2;
    const at = leader.at + half;
    const turned = collect(demodulate(samples, rate, { ...leader, at }), memory, timed(at));
    if (memory.size > before) frames = turned;
  }
  const head = memory.get(0);
  const total = head?.length === 9 ? Math.ceil(little(head, 1, 4) / 64) + 1 : null;
  return { ...assemble(memory, speed), frames, total };
}

type Assembled = Omit<LinkHeard, 'frames' | 'total'>;

const nothing = (problem: string, speed = 1): LinkHeard => ({
  frames: [],
  total: null,
  patterns: 0,
  files: [],
  missing: [],
  problem,
  speed,
});

interface Leader {
  /** A sample inside the leader, where a cycle begins. */
  readonly at: number;
  readonly speed: number;
}

/** Sine and cosine share of a tone in a stretch, and its whole energy. */
function tone(samples: Float32Array, from: number, length: number, omega: number) {
  let sin = 0;
  let cos = 0;
  let energy = 0;
  let mean = 0;
  const count = Math.max(1, Math.min(length, samples.length - from));
  for (let i = 0; i < count; i++) mean += samples[from + i]!;
  mean /= count;
  // A pointer that is turned by the same angle each time: no sine of each sample.
  const [turnSin, turnCos] = [Math.sin(omega), Math.cos(omega)];
  let s = 0;
  let c = 1;
  for (let i = 0; i < count; i++) {
    const x = samples[from + i]! - mean;
    sin += x * s;
    cos += x * c;
    energy += x * x;
    const before = s;
    s = s * turnCos + c * turnSin;
    c = c * turnCos - before * turnSin;
  }
  return { sin, cos, share: energy > 0 ? (2 * (sin * sin + cos * cos)) / (count * energy) : 0 };
}

/** Half a second of one tone near 1,200 Hz; its speed from how its phase moves. */
function findLeader(samples: Float32Array, rate: number): Leader | null {
  const block = Math.round(rate * 0.02);
  const needed = 20;
  let run = 0;
  for (let from = 0; from + block <= samples.length; from += block) {
    let best = 0;
    for (let f = 0.94; f <= 1.0601; f += 0.02)
      best = Math.max(best, tone(samples, from, block, (2 * Math.PI * LOW * f) / rate).share);
    run = best > 0.6 ? run + 1 : 0;
    if (run < needed) continue;
    const start = from - (needed - 1) * block;
    const speed = fineSpeed(samples, start, block * needed, rate);
    const omega = (2 * Math.PI * LOW * speed) / rate;
    const { sin, cos } = tone(samples, from, block, omega);
    // x = A sin(ωi + φ): a cycle begins where ωi + φ is a whole turn.
    const phase = Math.atan2(cos, sin);
    const at = from + ((2 * Math.PI - phase) % (2 * Math.PI)) / omega;
    return { at, speed };
  }
  return null;
}

function fineSpeed(samples: Float32Array, from: number, length: number, rate: number): number {
  let best = 1;
  let most = -1;
  for (let f = 0.94; f <= 1.06; f += 0.002) {
    const { share } = tone(samples, from, length, (2 * Math.PI * LOW * f) / rate);
    if (share > most) [most, best] = [share, f];
  }
  for (let step = 0.001; step > 1e-6; step /= 2)
    for (const f of [best - step, best + step]) {
      const { share } = tone(samples, from, length, (2 * Math.PI * LOW * f) / rate);
      if (share > most) [most, best] = [share, f];
    }
  return best;
}

/** A bit a cycle; the clock is drawn to where the tone that was heard says that cycles begin. */
function demodulate(samples: Float32Array, rate: number, { at, speed }: Leader): Uint8Array {
  const nominal = rate / (LOW * speed);
  let length = nominal;
  const bits = new Uint8Array(Math.max(0, Math.floor((samples.length - at) / (nominal * 0.96))));
  let count = 0;
  let from = at;
  while (from + length + 1 < samples.length && count < bits.length) {
    const omega = (2 * Math.PI) / length;
    const first = Math.ceil(from);
    const until = Math.floor(from + length);
    let mean = 0;
    for (let i = first; i <= until; i++) mean += samples[i]!;
    mean /= until - first + 1;
    let s1 = 0;
    let c1 = 0;
    let s2 = 0;
    let c2 = 0;
    const [turnSin, turnCos] = [Math.sin(omega), Math.cos(omega)];
    let sin = Math.sin(omega * (first - from));
    let cos = Math.cos(omega * (first - from));
    for (let i = first; i <= until; i++) {
      const x = samples[i]! - mean;
      s1 += x * sin;
      c1 += x * cos;
      // Twice the angle: sin 2a = 2 sin a cos a, cos 2a = 1 − 2 sin² a.
      s2 += x * 2 * sin * cos;
      c2 += x * (1 - 2 * sin * sin);
      const before = sin;
      sin = sin * turnCos + cos * turnSin;
      cos = cos * turnCos - before * turnSin;
    }
    const one = s2 * s2 + c2 * c2 > s1 * s1 + c1 * c1;
    bits[count++] = one ? 1 : 0;
    // An inverted wave is half a turn off in either tone: its sign is taken away.
    const [s, c] = one ? [s2, c2] : [s1, c1];
    const error = Math.atan2(c * Math.sign(s), Math.abs(s)) / (one ? 2 : 1);
    const drift = (error / (2 * Math.PI)) * length;
    from += length - drift * 0.12;
    length += Math.max(-0.01, Math.min(0.01, -drift * 0.004));
    length = Math.max(nominal * 0.98, Math.min(nominal * 1.02, length));
  }
  return bits.subarray(0, count);
}

/** Frames whose sums agree, by their numbers; all that came are told. */
function collect(
  bits: Uint8Array,
  memory: Map<number, Uint8Array>,
  msOf: (bit: number) => number,
): LinkFrame[] {
  const frames: LinkFrame[] = [];
  const byte = (at: number) => {
    let value = 0;
    for (let k = 0; k < 8; k++) value |= (bits[at + k] ?? 0) << k;
    return value;
  };
  let window = 0;
  for (let at = 0; at < bits.length; at++) {
    window = ((window >>> 1) | (bits[at]! << 15)) & 0xffff;
    if (window !== SYNC) continue;
    const body = at + 1;
    const length = byte(body + 16);
    if (length > 64) continue;
    const end = body + 24 + length * 8;
    if (end + 16 > bits.length) continue;
    const all = Array.from({ length: 3 + length }, (_, k) => byte(body + k * 8));
    if (ownCrc16(all) !== byte(end) + byte(end + 8) * 256) {
      frames.push({ number: null, endMs: msOf(end + 16) });
      continue;
    }
    frames.push({ number: all[0]! + all[1]! * 256, endMs: msOf(end + 16) });
    memory.set(all[0]! + all[1]! * 256, Uint8Array.from(all.slice(3)));
    at = end + 15;
    window = 0;
  }
  return frames;
}

const little = (bytes: Uint8Array, at: number, size: number) => {
  let value = 0;
  for (let k = size - 1; k >= 0; k--) value = value * 256 + bytes[at + k]!;
  return value;
};

function assemble(frames: ReadonlyMap<number, Uint8Array>, speed: number): Assembled {
  const head = frames.get(0);
  if (!head || head.length !== 9)
    return { ...nothing('The first frame is garbled: send it again.', speed), missing: [0] };
  const patterns = head[0]!;
  const total = little(head, 1, 4);
  const count = Math.ceil(total / 64);
  const missing: number[] = [];
  const data = new Uint8Array(total);
  for (let n = 1; n <= count; n++) {
    const frame = frames.get(n);
    if (!frame || frame.length !== Math.min(64, total - (n - 1) * 64)) missing.push(n);
    else data.set(frame, (n - 1) * 64);
  }
  if (missing.length > 0) {
    const some = missing.slice(0, 10).join(', ');
    return {
      ...nothing(`Frames ${some} are garbled: send them again.`, speed),
      patterns,
      missing,
    };
  }
  if (ownCrc32(data) !== little(head, 5, 4))
    return nothing('The sum of all frames is another.', speed);
  const files: { path: string; bytes: Uint8Array }[] = [];
  for (let at = 0; at < data.length;) {
    const nameLength = data[at]!;
    const sizeAt = at + 1 + nameLength;
    if (sizeAt + 4 > data.length) return nothing('Its files are cut off.', speed);
    const size = little(data, sizeAt, 4);
    if (sizeAt + 4 + size > data.length) return nothing('Its files are cut off.', speed);
    const path = String.fromCharCode(...data.subarray(at + 1, sizeAt));
    files.push({ path, bytes: data.subarray(sizeAt + 4, sizeAt + 4 + size) });
    at = sizeAt + 4 + size;
  }
  return { patterns, files, missing, problem: null, speed };
}
