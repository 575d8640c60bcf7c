import type { Module } from './module';
import type { Performance } from './strikes';

/** How rows are read as beats and bars, and why. */
export interface RowBeats {
  readonly rowsPerBeat: number;
  readonly beatsPerBar: number;
  readonly reason: string;
}

const CANDIDATES = [4, 8, 6, 3, 2, 12, 16, 1, 24, 32] as const;
/** Beats a minute that people count in most, and how wide their habit is, in octaves. */
const USUAL_BPM = 122;
const HABIT = 0.6;
const BEAT_TICKS = 24;
/** How much more likely a beat is as the tempo counts it. */
const COUNTED = 2.2;

/**
 * Rows a beat by what the file says, else by tempo (how fast people count, and that tempo means beats of
 * 24 ticks), by accents (strikes on every
 * n-th row are louder and lower), and by what comes back; bars by how long patterns are.
 */
export function rowBeats(module: Module, { rows, strikes }: Performance): RowBeats {
  if (module.highlight) {
    const [beat, bar] = module.highlight;
    return {
      rowsPerBeat: beat,
      beatsPerBar: Math.max(1, Math.min(16, bar / beat)),
      reason: `the file counts ${beat} rows a beat and ${bar} a bar`,
    };
  }
  const lengths = rows.map((r) => r.seconds).sort((a, b) => a - b);
  const row = lengths[lengths.length >> 1] ?? 0.12;
  const weights = new Float64Array(rows.length);
  for (const s of strikes) {
    const first = s.levels.find((l) => l.value > 0)?.value ?? 0;
    weights[s.row] = weights[s.row]! + first;
  }
  const ticks = usualOf(rows.map((r) => r.ticks));
  const mean = weights.reduce((a, b) => a + b, 0) / Math.max(1, weights.length);
  const passes = passLengths(rows);
  const usual = usualOf(passes);
  let best = { rowsPerBeat: 4, score: -1, bpm: 125, contrast: 1 };
  for (const n of CANDIDATES) {
    const bpm = 60 / (n * row);
    const habit = Math.exp(-((Math.log2(bpm / USUAL_BPM) / HABIT) ** 2));
    let [on, count] = [0, 0];
    rows.forEach((r, i) => {
      if (r.row % n !== 0) return;
      on += weights[i]!;
      count++;
    });
    const contrast = mean > 0 && count > 0 ? on / count / mean : 1;
    const whole = usual % n === 0 ? 1 : 0.5;
    // Longer steps always look more accented; what counts is how much against their length.
    const accented = (contrast - 1) / Math.max(1, Math.sqrt(n));
    // By the unit of tempo that all four formats share a beat has 24 ticks.
    const counted = n * ticks === BEAT_TICKS ? COUNTED : 1;
    const evidence = 0.6 + Math.max(0, Math.min(1, accented)) + comesBack(weights, n);
    const score = habit * whole * counted * evidence;
    if (score > best.score) best = { rowsPerBeat: n, score, bpm, contrast };
  }
  const { rowsPerBeat, bpm, contrast } = best;
  const beatsPerBar = barOf(weights, rowsPerBeat, usual);
  const reason =
    `${rowsPerBeat} rows a beat are ${Math.round(bpm)} BPM; strikes there are ` +
    `${contrast.toFixed(1)} times as strong as elsewhere; patterns of ${usual} rows`;
  return { rowsPerBeat, beatsPerBar, reason };
}

/** How many rows each pattern was played for, one pass after the other. */
export function passLengths(rows: Performance['rows']): number[] {
  const out: number[] = [];
  rows.forEach((r, i) => {
    if (i === 0 || r.order !== rows[i - 1]!.order) out.push(1);
    else out[out.length - 1]!++;
  });
  return out;
}

function usualOf(lengths: readonly number[]): number {
  const counts = new Map<number, number>();
  for (const l of lengths) counts.set(l, (counts.get(l) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0]?.[0] ?? 64;
}

/** Likeness of the strikes with themselves so many rows later, −1 to 1. */
function comesBack(weights: Float64Array, lag: number): number {
  if (lag >= weights.length) return 0;
  let [sum, square] = [0, 0];
  for (const w of weights) sum += w;
  const mean = sum / weights.length;
  let product = 0;
  for (let i = 0; i < weights.length; i++) {
    square += (weights[i]! - mean) ** 2;
    if (i >= lag) product += (weights[i]! - mean) * (weights[i - lag]! - mean);
  }
  return square > 0 ? Math.max(-1, Math.min(1, product / square)) : 0;
}

function barOf(weights: Float64Array, beat: number, usual: number): number {
  const four = usual % (beat * 4) === 0;
  const three = usual % (beat * 3) === 0;
  if (three && !four) return 3;
  if (three && four)
    return comesBack(weights, beat * 3) > comesBack(weights, beat * 4) + 0.1 ? 3 : 4;
  return 4;
}
