/**
 * What sounds, frame by frame, as a recording and a score can both tell it: how strongly each of the
 * twelve pitch classes sounds, how much of each begins, and how much begins low, in the middle and
 * high, whatever its pitch (drums). Each third of a frame has the length 1, or 0 where it is silent.
 */
export interface Features {
  readonly hopMs: number;
  readonly frames: number;
  /** `SIZE` values a frame. */
  readonly values: Float32Array;
}

export const CLASSES = 12;

export const BANDS = 3;

export const SIZE = CLASSES * 2 + BANDS;

/** One value every so many milliseconds. */
export const HOP_MS = 50;

/** A beginning is heard for so long: the place need not be met to the frame. */
const DECAY = 0.6;

/** Lets beginnings ring on for a few frames, and gives each third of a frame the length 1. */
export function finished(values: Float32Array, frames: number): Features {
  for (let t = 1; t < frames; t++)
    for (let k = CLASSES; k < SIZE; k++) {
      const at = t * SIZE + k;
      values[at] = Math.max(values[at]!, values[at - SIZE]! * DECAY);
    }
  for (let t = 0; t < frames; t++) {
    unit(values, t * SIZE, CLASSES);
    unit(values, t * SIZE + CLASSES, CLASSES);
    unit(values, t * SIZE + CLASSES * 2, BANDS);
  }
  return { hopMs: HOP_MS, frames, values };
}

function unit(values: Float32Array, from: number, size: number) {
  let sum = 0;
  for (let k = from; k < from + size; k++) sum += values[k]! * values[k]!;
  const scale = sum > 1e-9 ? 1 / Math.sqrt(sum) : 0;
  for (let k = from; k < from + size; k++) values[k]! *= scale;
}

/**
 * Of what sounds only the tones that stand out, as a score tells them: else all of music is alike, and
 * the right place is hardly more so than any other.
 */
export function standingOut({ hopMs, frames, values }: Features): Features {
  const out = values.slice();
  for (let t = 0; t < frames; t++)
    for (const from of [t * SIZE, t * SIZE + CLASSES]) {
      const tones = out.subarray(from, from + CLASSES);
      const mean = tones.reduce((a, b) => a + b, 0) / CLASSES;
      for (let k = 0; k < CLASSES; k++) tones[k] = Math.max(0, tones[k]! - mean);
      unit(out, from, CLASSES);
    }
  return { hopMs, frames, values: out };
}

/** The same in fewer frames: each is the mean of several, of length 1 again. */
export function coarser({ hopMs, frames, values }: Features, by: number): Features {
  if (by === 1) return { hopMs, frames, values };
  const fewer = Math.ceil(frames / by);
  const out = new Float32Array(fewer * SIZE);
  for (let t = 0; t < frames; t++)
    for (let k = 0; k < SIZE; k++) out[Math.floor(t / by) * SIZE + k]! += values[t * SIZE + k]!;
  for (let t = 0; t < fewer; t++) {
    unit(out, t * SIZE, CLASSES);
    unit(out, t * SIZE + CLASSES, CLASSES);
    unit(out, t * SIZE + CLASSES * 2, BANDS);
  }
  return { hopMs: hopMs * by, frames: fewer, values: out };
}

/**
 * The features of a recording as it is heard after its edits.
 *
 * @param original the time of the recording that is heard at a time; null where it is silent
 */
export function heardFeatures(
  { hopMs, values }: Features,
  lengthMs: number,
  original: (ms: number) => number | null,
): Features {
  const frames = Math.max(1, Math.ceil(lengthMs / hopMs));
  const out = new Float32Array(frames * SIZE);
  for (let t = 0; t < frames; t++) {
    const from = original((t + 0.5) * hopMs);
    if (from === null) continue;
    const at = Math.floor(from / hopMs) * SIZE;
    out.set(values.subarray(at, at + SIZE), t * SIZE);
  }
  return { hopMs, frames, values: out };
}

/** As if it went backwards: the same tones in another order. */
export function backwards({ hopMs, frames, values }: Features): Features {
  const out = new Float32Array(values.length);
  for (let t = 0; t < frames; t++)
    out.set(values.subarray(t * SIZE, (t + 1) * SIZE), (frames - 1 - t) * SIZE);
  return { hopMs, frames, values: out };
}

/** In another key. */
export function transposed({ hopMs, frames, values }: Features, by: number): Features {
  const out = values.slice();
  for (let t = 0; t < frames; t++)
    for (let k = 0; k < CLASSES; k++) {
      const to = (k + by + CLASSES) % CLASSES;
      out[t * SIZE + to] = values[t * SIZE + k]!;
      out[t * SIZE + CLASSES + to] = values[t * SIZE + CLASSES + k]!;
    }
  return { hopMs, frames, values: out };
}

/** What begins low begins in another band. */
export function bandsTurned({ hopMs, frames, values }: Features, by: number): Features {
  const out = values.slice();
  for (let t = 0; t < frames; t++)
    for (let b = 0; b < BANDS; b++)
      out[t * SIZE + CLASSES * 2 + ((b + by) % BANDS)] = values[t * SIZE + CLASSES * 2 + b]!;
  return { hopMs, frames, values: out };
}
