import { writeProbe, type ProbeTune } from './probe-tune';

/** What was asked of the far side, and what it said. */
export interface Answered {
  readonly tune: ProbeTune;
  readonly taken: boolean;
}

/** What a set of probes finds out. */
export interface ProbeResult {
  readonly formats: readonly number[];
  readonly ppqs: readonly number[];
  readonly channels: readonly number[];
  readonly lowest: number;
  readonly highest: number;
  readonly together: number;
  readonly startMs: number;
}

export type NextProbe =
  | { readonly says: string; readonly tune: ProbeTune; readonly bytes: Uint8Array }
  | { readonly done: ProbeResult };

/** Values that people choose: limits are looked for between these first. */
const LOWS = [0, 21, 24, 28, 36, 48];
const HIGHS = [127, 108, 96, 84, 81, 72];
const VOICES = [1, 2, 4, 8, 16];
const STARTS = [0, 500, 1000, 1500, 2000, 3000];
const PPQS = [960, 96];

/** A small tune that almost everything takes; what is known to be taken stands in its place. */
export const PLAIN: ProbeTune = {
  format: 0,
  ppq: 480,
  channel: 1,
  keys: [60],
  together: 1,
  startMs: 3000,
};

/**
 * The next small file to try, which differs in one thing from what was taken; or what all answers
 * together say. Answers are those so far, in their order; a limit is found by halves.
 */
export function nextProbe(answers: readonly Answered[], base: ProbeTune = PLAIN): NextProbe {
  let at = 0;
  let next: { says: string; tune: ProbeTune } | null = null;
  /** The answer to this probe, where it was given; else it is the next one. */
  const ask = (says: string, change: Partial<ProbeTune>): boolean => {
    const tune = { ...base, ...change };
    const given = answers[at];
    if (given) {
      at++;
      return given.taken;
    }
    throw new Ask(says, tune);
  };
  try {
    const other = base.format === 0 ? 1 : 0;
    const formats = ask(`SMF format ${other}`, { format: other }) ? [0, 1] : [base.format];
    const ppqs = [base.ppq];
    for (const ppq of PPQS.filter((p) => p !== base.ppq))
      if (ask(`PPQ ${ppq}`, { ppq })) ppqs.push(ppq);
    const strange = base.channel === 10 ? 1 : 10;
    const channels = ask(`channel ${strange}`, { channel: strange }) ? ALL : [base.channel];
    // By halves over what people choose: the far end first, for many have no limit.
    const search = (
      values: readonly number[],
      word: (v: number) => string,
      make: (v: number) => Partial<ProbeTune>,
    ) => {
      let best = values.length;
      let from = 0;
      let to = values.length;
      while (from < to) {
        const mid = Math.floor((from + to) / 2);
        if (ask(word(values[mid]!), make(values[mid]!))) {
          best = mid;
          to = mid;
        } else from = mid + 1;
      }
      return best;
    };
    const key = base.keys[0]!;
    const lows = LOWS.filter((l) => l < key);
    const l = search(
      lows,
      (v) => `note ${v}`,
      (v) => ({ keys: [key, v] }),
    );
    const highs = HIGHS.filter((h) => h > key);
    const h = search(
      highs,
      (v) => `note ${v}`,
      (v) => ({ keys: [key, v] }),
    );
    const range: [number, number] = [lows[l] ?? key, highs[h] ?? key];
    const room = range[1] - range[0] + 1;
    const voices = [...VOICES].reverse().filter((v) => v > base.together && v <= room);
    const v = search(
      voices,
      (n) => `${n} notes at once`,
      (n) => ({ together: n, within: range }),
    );
    const starts = STARTS.filter((s) => s < base.startMs);
    const s = search(
      starts,
      (ms) => `first note at ${ms} ms`,
      (ms) => ({ startMs: ms }),
    );
    return {
      done: {
        formats,
        ppqs: ppqs.sort((a, b) => a - b),
        channels,
        lowest: range[0],
        highest: range[1],
        together: voices[v] ?? base.together,
        startMs: starts[s] ?? base.startMs,
      },
    };
  } catch (asked) {
    if (!(asked instanceof Ask)) throw asked;
    next = asked;
  }
  return { ...next, bytes: writeProbe(next.tune) };
}

const ALL = Array.from({ length: 16 }, (_, i) => i + 1);

class Ask extends Error {
  constructor(
    readonly says: string,
    readonly tune: ProbeTune,
  ) {
    super(says);
  }
}
