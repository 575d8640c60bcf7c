import { quoted } from '../diagnostic/words';

/** What one file shows of a number. */
export interface Seen {
  readonly name: string;
  readonly value: number;
}

/** What a number that was learnt from files rests on. */
export interface Evidence {
  /** Of the number, in the target. */
  readonly path: string;
  readonly bound: 'least' | 'most';
  /** How many of how many files show it. */
  readonly files: number;
  readonly of: number;
  /** At most two, the one that lies nearest to the limit first. */
  readonly nearest: readonly Seen[];
  /** A number that people would rather have chosen, and that takes all of the files as well. */
  readonly round: number | null;
}

export function evidenceOf(
  path: string,
  bound: Evidence['bound'],
  learnt: number,
  seen: readonly Seen[],
  of: number,
): Evidence {
  const way = bound === 'least' ? 1 : -1;
  const nearest = seen.toSorted((a, b) => way * (a.value - b.value)).slice(0, 2);
  return { path, bound, files: seen.length, of, nearest, round: roundNear(path, bound, learnt) };
}

/** `Seen in 3 of 4 files: “tide” at 1,487, “quay” at 1,502`. */
export function sayEvidence({ files, of, nearest }: Evidence): string {
  const at = nearest.map((s) => `${quoted(s.name)} at ${sayNumber(s.value)}`).join(', ');
  const how =
    of === 1
      ? 'the only file'
      : files === of
        ? of === 2
          ? 'both files'
          : `all ${of} files`
        : `${files} of ${of} files`;
  return `seen in ${how}; ${nearest.length > 1 ? 'nearest ' : ''}${at}`;
}

export const sayNumber = (value: number): string =>
  value.toLocaleString('en-GB', { maximumFractionDigits: 2 });

/** Bounds of keyboards, and every C: what somebody says who means a range of keys. */
const KEYS = [0, 12, 21, 24, 28, 36, 48, 60, 72, 84, 96, 108, 120, 127];
const COUNTS = [
  1, 2, 3, 4, 6, 8, 10, 12, 16, 20, 24, 32, 40, 48, 64, 80, 96, 100, 128, 200, 256, 400, 500, 512,
  1000,
];
const STEPS_OF_TIME = [1000, 500, 250, 200, 100, 50, 20, 10, 5];
const STEPS_OF_TEMPO = [60, 50, 40, 20, 10, 5];

/** What each kind of number is chosen from, and how far from what was seen, as a share of it. */
function choicesFor(path: string, value: number): { all: readonly number[]; share: number } {
  const [block, key] = path.split('.');
  const around = (steps: readonly number[]) =>
    steps.flatMap((s) => [Math.floor(value / s) * s, Math.ceil(value / s) * s]);
  if (block === 'notes') return { all: KEYS, share: Math.min(1, 3 / Math.max(1, value)) };
  if (block === 'velocity')
    return { all: [1, ...around([20, 10, 5]), 127].filter((v) => v <= 127), share: 0.15 };
  if (key?.endsWith('Ms')) return { all: around(STEPS_OF_TIME), share: 0.12 };
  if (key?.endsWith('Bpm')) return { all: around(STEPS_OF_TEMPO), share: 0.14 };
  return { all: COUNTS, share: 0.34 };
}

/** The roundest number a little looser than what was seen; null where that is round already. */
function roundNear(path: string, bound: Evidence['bound'], value: number): number | null {
  const { all, share } = choicesFor(path, value);
  const far = Math.abs(value) * share + 1e-9;
  const fits = (n: number) =>
    n > 0 && (bound === 'least' ? n <= value && n >= value - far : n >= value && n <= value + far);
  // They stand in the order of their roundness, or by size: then the nearest is the first to fit.
  const ordered =
    all === KEYS || all === COUNTS
      ? all.toSorted((a, b) => Math.abs(a - value) - Math.abs(b - value))
      : all;
  const found = ordered.find(fits);
  return found === undefined || found === value ? null : found;
}
