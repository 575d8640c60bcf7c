import type { Checkpoint } from '../../diagnostic/checkpoint';
import { LARGEST_DECODED_BYTES, LONGEST_RECORDING_MS, type Samples } from '../../sound/samples';
import { sayClock } from '../../time/meter-map';
import type { KnownModule } from './known';
import type { Module } from './module';
import { Player } from './player';
import { Voice } from './voice';

export interface MixOptions {
  readonly rate: number;
  readonly between: 'linear' | 'cubic';
  /** How much of hard left and right is taken back: 0 none, 1 all. */
  readonly softened: number;
  readonly checkpoint?: Checkpoint;
  /** One sample alone, by its number. */
  readonly only?: number;
}

/** Changes of gain take this long, so that none clicks. */
const RAMP_SECONDS = 0.0015;

interface Gains {
  left: number;
  right: number;
}

/** Why a module is not mixed: it would be longer than a recording may be; null where it is not. */
export function tooLongToMix({ played: { seconds } }: KnownModule, rate: number): string | null {
  const most = Math.min(
    LONGEST_RECORDING_MS / 1000,
    LARGEST_DECODED_BYTES / (2 * Float32Array.BYTES_PER_ELEMENT * rate),
  );
  if (seconds <= most) return null;
  return (
    `It plays for ${sayClock(seconds * 1000)}; a recording has at most ` +
    `${sayClock(Math.floor(most) * 1000)} at ${rate.toLocaleString('en-GB')} Hz.`
  );
}

/**
 * A module as its machine sounds it, stereo; as loud as it can be without clipping. The time of each
 * tick is rounded to a frame, never added up. Its length is the caller’s to bound (`tooLongToMix`).
 */
export function mix({ module, played, songs, song }: KnownModule, options: MixOptions): Samples {
  const { rate, softened, checkpoint, only } = options;
  const frames = Math.round(played.seconds * rate);
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  const player = new Player(module, songs[song]!.order);
  const gains = new Map<Voice, Gains>();
  const ramp = Math.max(1, Math.round(RAMP_SECONDS * rate));
  let from = 0;
  while (from < frames && player.tick()) {
    const to = Math.min(frames, Math.round((player.at + player.seconds) * rate));
    const now = new Set<Voice>();
    for (const v of player.voices()) {
      if (only !== undefined && v.sampleNumber !== only) {
        v.advance(player.seconds);
        continue;
      }
      now.add(v);
      const pan = 0.5 + (v.pan - 0.5) * (1 - softened);
      const target = { left: v.level * (1 - pan), right: v.level * pan };
      let g = gains.get(v);
      // A strike begins at its level: what is steep in it is meant.
      if (!g) gains.set(v, (g = { ...target }));
      add(v, left, right, from, to, g, target, Math.min(ramp, to - from), options);
    }
    for (const [v, g] of gains)
      if (!now.has(v)) {
        // What was cut dies away inside the ramp.
        const end = Math.min(frames, from + ramp);
        const wasEnded = v.ended;
        v.ended = false;
        if (g.left > 0 || g.right > 0)
          add(v, left, right, from, end, g, { left: 0, right: 0 }, end - from, options);
        v.ended = wasEnded;
        gains.delete(v);
      }
    from = to;
    if ((player.rows.length & 63) === 0) checkpoint?.(from, frames);
  }
  let peak = 0;
  for (let i = 0; i < frames; i++) peak = Math.max(peak, Math.abs(left[i]!), Math.abs(right[i]!));
  const scale = peak > 0 ? 0.89 / peak : 1;
  for (let i = 0; i < frames; i++) {
    left[i] = left[i]! * scale;
    right[i] = right[i]! * scale;
  }
  return { rate, channels: [left, right] };
}

/** One voice into both channels, from one frame to another; its place goes on. */
function add(
  v: Voice,
  left: Float32Array,
  right: Float32Array,
  from: number,
  to: number,
  gains: Gains,
  target: Gains,
  ramp: number,
  { rate, between }: MixOptions,
): void {
  const step = v.frequency / rate;
  if (v.sample.frames.length === 0 || step <= 0) return;
  const cubic = between === 'cubic';
  let at = from;
  const rampEnd = from + ramp;
  const slopeL = (target.left - gains.left) / Math.max(1, ramp);
  const slopeR = (target.right - gains.right) / Math.max(1, ramp);
  let gl = gains.left;
  let gr = gains.right;
  while (at < to && !v.ended) {
    const { frames: mono, right: second } = v.sample;
    const loop = v.loop;
    const limit = loop ? loop.to : mono.length;
    const low = loop ? loop.from : 0;
    const room = v.backwards ? v.position - low : limit - v.position;
    const count = Math.min(to - at, Math.max(1, Math.ceil(room / step)));
    const move = v.backwards ? -step : step;
    let p = v.position;
    for (let i = 0; i < count; i++, at++, p += move) {
      const index = Math.floor(p);
      const t = p - index;
      const a = read(mono, index, low, limit, loop?.pingPong ?? null, t, cubic);
      const b = second ? read(second, index, low, limit, loop?.pingPong ?? null, t, cubic) : a;
      if (at < rampEnd) {
        gl += slopeL;
        gr += slopeR;
      }
      left[at] = left[at]! + a * gl;
      right[at] = right[at]! + b * gr;
    }
    v.position = p;
    if (!v.backwards && p >= limit) {
      if (v.after) v.turn(p - limit);
      else if (!loop) v.ended = true;
      else if (loop.pingPong) {
        v.backwards = true;
        v.position = Math.max(low, limit - (p - limit));
      } else v.position = low + ((p - low) % (limit - low));
    } else if (v.backwards && p <= low) {
      v.backwards = false;
      v.position = Math.min(limit - 1e-9, low + (low - p));
    }
  }
  gains.left = at >= rampEnd ? target.left : gl;
  gains.right = at >= rampEnd ? target.right : gr;
}

/** A value between frames; what follows an end is where its loop goes on, else silence. */
function read(
  frames: Float32Array,
  index: number,
  low: number,
  limit: number,
  pingPong: boolean | null,
  t: number,
  cubic: boolean,
): number {
  const inside = index >= 1 && index + 2 < limit;
  const y1 = frames[index] ?? 0;
  const y2 = inside ? frames[index + 1]! : beyond(frames, index + 1, low, limit, pingPong);
  if (!cubic) return y1 + (y2 - y1) * t;
  const y0 = index >= 1 ? frames[index - 1]! : y1;
  const y3 = inside ? frames[index + 2]! : beyond(frames, index + 2, low, limit, pingPong);
  // Four points, third order: Hermite’s with slopes of the neighbours.
  const c1 = (y2 - y0) / 2;
  const c2 = y0 - 2.5 * y1 + 2 * y2 - y3 / 2;
  const c3 = (y3 - y0) / 2 + 1.5 * (y1 - y2);
  return ((c3 * t + c2) * t + c1) * t + y1;
}

function beyond(
  frames: Float32Array,
  index: number,
  low: number,
  limit: number,
  pingPong: boolean | null,
): number {
  if (index < limit) return frames[index] ?? 0;
  if (pingPong === null) return 0;
  return frames[pingPong ? Math.max(low, 2 * limit - 1 - index) : low + (index - limit)] ?? 0;
}

/** Longest that one sample is heard alone, in seconds. */
const ALONE_SECONDS = 2.5;

/** One sample alone, struck at a key. */
export function soundOf(module: Module, number: number, key: number, rate: number): Samples {
  const sample = module.samples[number];
  if (!sample) return { rate, channels: [new Float32Array(1)] };
  const voice = new Voice(1, 0, number, sample, 0, null, key, key);
  voice.frequency = sample.rate * 2 ** ((key - 60) / 12);
  const length = sample.loop ? ALONE_SECONDS : sample.frames.length / voice.frequency;
  const frames = Math.max(1, Math.round(Math.min(ALONE_SECONDS, length) * rate));
  const out = new Float32Array(frames);
  const level = { left: 0.6, right: 0 };
  add(voice, out, new Float32Array(frames), 0, frames, { ...level }, level, 1, {
    rate,
    between: 'cubic',
    softened: 0,
  });
  // What goes round is let go softly.
  const fade = Math.min(frames, Math.round(rate * 0.05));
  for (let i = 0; i < fade; i++) out[frames - 1 - i] = out[frames - 1 - i]! * (i / fade);
  return { rate, channels: [out] };
}
