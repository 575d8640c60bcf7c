import type { Stretch } from './warp';

/** How alike frames of the score (rows) are to frames of the sound: `n × m`. */
export interface Alike {
  readonly alike: Float32Array;
  readonly n: number;
  readonly m: number;
}

/** Places of the sound that are told apart within a frame: so many bits. */
const FINE_BITS = 2;
const FINE = 1 << FINE_BITS;
/** A stretch of one tempo is so long at least, milliseconds and places. */
const LEG_MS = 1000;
const LEG_PLACES = 92;
/** How far from the way another is looked for. */
const REACH_MS = 1200;
/** Tempos that are tried, a hundredth apart, either side of the usual one. */
const TEMPOS = 20;
/** From one leg to the next it turns by as many hundredths at most, and what it costs, squared. */
const TURNS = 4;
const TURN = 1.5;

/**
 * The way near another along which both are most alike while its tempo turns little by little. Where
 * music goes on in equal strokes a free way slips by one of them and back, for a few frames that are
 * more alike; whoever plays does not.
 *
 * @param ratio the tempo that the way has on the whole, sound to score
 */
export function steadied(
  { score, sound }: Stretch,
  { alike, n, m }: Alike,
  hopMs: number,
  ratio: number,
): Stretch {
  const leg = Math.max(Math.round(LEG_MS / hopMs), Math.ceil(LEG_PLACES / FINE));
  const from = score[0]!;
  const legs = Math.floor((score.at(-1)! - from) / leg);
  if (legs < 3) return { score, sound };
  const reach = Math.round((REACH_MS / hopMs) * FINE);
  const width = 2 * reach + 1;
  const tempos = 2 * TEMPOS + 1;
  const steps = Int32Array.from({ length: tempos }, (_, k) =>
    Math.round(FINE * leg * ratio * (1 + (k - TEMPOS) / 100)),
  );
  // How far each frame of a leg lies behind its begin, by tempo.
  const behind = Int32Array.from({ length: tempos * leg }, (_, c) =>
    Math.round((steps[Math.floor(c / leg)]! * (c % leg)) / leg),
  );
  // Where each leg’s band begins, in places of the sound.
  const band = Int32Array.from({ length: legs + 1 }, (_, w) => {
    const at = from + w * leg;
    return Math.round(FINE * wayAt(score, sound, at)) - reach;
  });
  const back: Int8Array[] = [];
  // The best that ends at a place of the band with a tempo.
  let before = new Float64Array(width * tempos);
  for (let w = 0; w < legs; w++) {
    const now = new Float64Array(width * tempos).fill(-Infinity);
    const turned = new Int8Array(width * tempos);
    for (let p = 0; p < width; p++)
      for (let k = 0; k < tempos; k++) {
        // The best of the tempos that may come before, at this place.
        let best = -Infinity;
        let by = 0;
        for (let d = w === 0 ? 0 : -TURNS; d <= (w === 0 ? 0 : TURNS); d++) {
          const was = k - d;
          if (was < 0 || was >= tempos) continue;
          const value = before[p * tempos + was]! - TURN * d * d;
          if (value > best) [best, by] = [value, d];
        }
        if (best === -Infinity) continue;
        const at = band[w]! + p;
        const to = at + steps[k]! - band[w + 1]!;
        if (to < 0 || to >= width) continue;
        let value = best;
        const rows = Math.min(leg, n - from - w * leg);
        for (let i = 0; i < rows; i++) {
          const j = (at + behind[k * leg + i]! + (FINE >> 1)) >> FINE_BITS;
          if (j >= 0 && j < m) value += alike[(from + w * leg + i) * m + j]!;
        }
        const cell = to * tempos + k;
        if (value > now[cell]!) {
          now[cell] = value;
          turned[cell] = by;
        }
      }
    back.push(turned);
    before = now;
  }
  let cell = 0;
  for (let c = 1; c < before.length; c++) if (before[c]! > before[cell]!) cell = c;
  if (before[cell] === -Infinity) return { score, sound };
  // From the end back: the place at which each leg begins, and its tempo.
  const places = new Float64Array(legs + 1);
  places[legs] = band[legs]! + Math.floor(cell / tempos);
  for (let w = legs - 1; w >= 0; w--) {
    const k = cell % tempos;
    const at = band[w + 1]! + Math.floor(cell / tempos) - steps[k]!;
    places[w] = at;
    const was = k - back[w]![cell]!;
    cell = (at - band[w]!) * tempos + was;
  }
  const outSound = Int32Array.from(score, (i) => {
    const w = Math.min(legs - 1, Math.max(0, Math.floor((i - from) / leg)));
    const step = places[w + 1]! - places[w]!;
    const at = places[w]! + (step * (i - from - w * leg)) / leg;
    return Math.min(m - 1, Math.max(0, Math.round(at / FINE)));
  });
  return { score, sound: outSound };
}

/** Where a way lies at a frame of the score; frames that it steps over lie between. */
function wayAt(score: Int32Array, sound: Int32Array, at: number): number {
  let [low, high] = [0, score.length - 1];
  while (high - low > 1) {
    const mid = (low + high) >> 1;
    if (score[mid]! <= at) low = mid;
    else high = mid;
  }
  const run = score[high]! - score[low]!;
  const share = run > 0 ? (at - score[low]!) / run : 0;
  return sound[low]! + share * (sound[high]! - sound[low]!);
}
