import type { Part } from '../../score/score';
import { firstProgram, firstVolume, type Measures } from './measures';
import { rolesIn } from './names';

/** Who has a line, by stretch: an index into the pitched parts, −1 where nobody plays. */
export interface LinePath {
  readonly by: Int16Array;
  /** By part: how well it would be the line over the song, and the share of it that it has. */
  readonly worth: Float32Array;
  readonly share: Float32Array;
}

/** What of a part speaks for the tune or the bass whatever it plays; 0 says nothing. */
interface Witness {
  readonly tune: number;
  readonly bass: number;
}

/** Sounds that are mostly given to one who has the tune, and those that mostly are not. */
const TUNEFUL = [22, 40, 54, 56, 59, 64, 65, 66, 68, 69, 71, 72, 73, 74, 75, 78, 79, 80, 81, 82, 85, 110]; // prettier-ignore
const isBassSound = (p: number) => (p >= 32 && p <= 39) || p === 43 || p === 58 || p === 87;
const isPad = (p: number) => (p >= 88 && p <= 95) || (p >= 48 && p <= 51);
const isEffect = (p: number) => (p >= 96 && p <= 103) || p >= 120 || p === 47 || p === 55;

function witnessOf(part: Part, sung: boolean): Witness {
  const named = rolesIn(part.name);
  const program = firstProgram(part);
  let [tune, bass] = [0, 0];
  if (named.has('lead') || named.has('voice') || named.has('right')) tune += 0.5;
  else if (named.has('bass') || named.has('chords')) tune -= 0.3;
  if (named.has('bass')) bass += 0.5;
  else if (named.has('lead')) bass -= 0.3;
  if (sung) tune += 0.8;
  if (program !== null) {
    if (TUNEFUL.includes(program)) tune += 0.25;
    if (isBassSound(program)) [tune, bass] = [tune - 0.6, bass + 0.6];
    if (isPad(program)) tune -= 0.25;
    if (isEffect(program)) [tune, bass] = [tune - 0.5, bass - 0.3];
  }
  return { tune, bass };
}

/** What changing from one part to another costs: as much as it would have to be better for. */
const CHANGE = 1.1;
/** What a part counts in a stretch in which it rests. */
const SILENT = 0;

/** The way through the stretches that is worth most, changes paid for. */
function pathOf(worth: Float32Array, { windows, parts, strikes }: Measures): Int16Array {
  const by = new Int16Array(windows).fill(-1);
  if (parts === 0) return by;
  let sum = new Float64Array(parts);
  const from = new Int16Array(windows * parts);
  for (let w = 0; w < windows; w++) {
    let best = 0;
    for (let p = 1; p < parts; p++) if (sum[p]! > sum[best]!) best = p;
    const next = new Float64Array(parts);
    for (let p = 0; p < parts; p++) {
      const stays = sum[p]! >= sum[best]! - CHANGE || w === 0;
      from[w * parts + p] = stays ? p : best;
      next[p] = (stays ? sum[p]! : sum[best]! - CHANGE) + worth[w * parts + p]!;
    }
    sum = next;
  }
  let at = 0;
  for (let p = 1; p < parts; p++) if (sum[p]! > sum[at]!) at = p;
  for (let w = windows - 1; w >= 0; w--) {
    by[w] = strikes[w * parts + at]! > 0 ? at : loudest(worth, strikes, w, parts);
    at = from[w * parts + at]!;
  }
  return by;
}

/** Whoever would be the line where the one who has it rests. */
function loudest(worth: Float32Array, strikes: Float32Array, w: number, parts: number): number {
  let best = -1;
  for (let p = 0; p < parts; p++) {
    const cell = w * parts + p;
    if (strikes[cell]! > 0 && (best < 0 || worth[cell]! > worth[w * parts + best]!)) best = p;
  }
  return best;
}

const ratio = (a: number, b: number) => (b > 0 ? a / b : 0);
/** How much of how it plays over the song counts in each stretch. */
const HABIT = 0.6;

function lineOf(m: Measures, own: (cell: number, p: number, w: number) => number): LinePath {
  const { windows, parts } = m;
  const worth = new Float32Array(windows * parts);
  const mean = new Float32Array(parts);
  const played = new Float32Array(parts);
  for (let w = 0; w < windows; w++)
    for (let p = 0; p < parts; p++) {
      const cell = w * parts + p;
      if (m.strikes[cell] === 0) continue;
      worth[cell] = own(cell, p, w);
      mean[p]! += worth[cell]!;
      played[p]!++;
    }
  for (let p = 0; p < parts; p++) mean[p]! /= Math.max(1, played[p]!);
  for (let w = 0; w < windows; w++)
    for (let p = 0; p < parts; p++) {
      const cell = w * parts + p;
      worth[cell] =
        m.strikes[cell] === 0
          ? SILENT
          : Math.max(0.01, worth[cell]! * (1 - HABIT) + mean[p]! * HABIT);
    }
  const by = pathOf(worth, m);
  const share = new Float32Array(parts);
  for (const p of by) if (p >= 0) share[p]! += 1 / windows;
  return { by, worth: mean, share };
}

/**
 * Who has the tune, by stretch. It is heard as the highest or the loudest; it moves mostly by steps,
 * in one voice, and does not do the same in every bar. Names and sounds are witnesses among others.
 */
export function tuneOf(m: Measures, parts: readonly Part[], sung: readonly boolean[]): LinePath {
  const witness = parts.map((p, n) => witnessOf(p, sung[n]!));
  const volume = parts.map(firstVolume);
  const { parts: count } = m;
  const loud = new Float32Array(m.windows);
  const force = (cell: number, p: number) =>
    ratio(m.velocity[cell]!, m.notes[cell]!) * (0.5 + (0.5 * volume[p]!) / 127);
  for (let w = 0; w < m.windows; w++)
    for (let p = 0; p < count; p++)
      if (m.strikes[w * count + p]! > 0) loud[w] = Math.max(loud[w]!, force(w * count + p, p));
  return lineOf(m, (cell, p, w) => {
    const strikes = m.strikes[cell]!;
    const voices = m.notes[cell]! / strikes;
    const high = ratio(m.highest[cell]!, m.long[w]!);
    const mine = Math.min(1, ratio(m.highest[cell]!, m.heard[cell]!));
    const single = voices <= 1.15 ? 1 : voices <= 2 ? 0.6 : voices <= 2.6 ? 0.3 : 0;
    const moves = ratio(m.steps[cell]!, strikes) - 0.4 * ratio(m.repeats[cell]!, strikes);
    const key = m.keys[cell]! / strikes;
    const low = Math.max(0, Math.min(1, (57 - key) / 12));
    const perSecond = ratio(strikes * 1000, m.long[w]!);
    const fast = Math.max(0, Math.min(1, (perSecond - 5) / 4));
    return (
      0.5 +
      0.6 * high +
      0.5 * mine +
      0.6 * single +
      0.6 * Math.max(0, moves) +
      0.9 * (ratio(force(cell, p), loud[w]!) - 0.75) -
      0.8 * low -
      0.5 * fast -
      0.5 * m.sameRhythm[p]! -
      0.5 * m.sameFigure[p]! +
      witness[p]!.tune
    );
  });
}

/** Who has the bass, by stretch: the lowest, in one voice, below the middle of the keyboard. */
export function bassOf(m: Measures, parts: readonly Part[]): LinePath {
  const witness = parts.map((p) => witnessOf(p, false));
  return lineOf(m, (cell, p, w) => {
    const strikes = m.strikes[cell]!;
    const voices = m.notes[cell]! / strikes;
    const low = ratio(m.lowest[cell]!, m.long[w]!);
    const mine = Math.min(1, ratio(m.lowest[cell]!, m.heard[cell]!));
    const key = m.keys[cell]! / strikes;
    return (
      0.3 +
      0.9 * low +
      0.7 * mine +
      (voices <= 1.2 ? 0.4 : 0) +
      0.8 * Math.max(0, Math.min(1, (60 - key) / 16)) +
      witness[p]!.bass
    );
  });
}
