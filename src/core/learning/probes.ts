import { writeProbe, type ProbeTune } from './probe-tune';

/** What was asked of the far side, and what it said. */
export interface Answered {
  readonly tune: ProbeTune;
  readonly taken: boolean;
}

/** As many probes as somebody is asked to try, at the most. */
export const MOST_PROBES = 16;

/** What a set of probes finds out: what was taken, and nothing that was only supposed. */
export interface ProbeResult {
  readonly formats: readonly number[];
  readonly ppqs: readonly number[];
  readonly channels: readonly number[];
  readonly lowest: number;
  readonly highest: number;
  readonly together: number;
  readonly startMs: number;
  /** What there was no probe left for: it stands as narrow as it was taken. */
  readonly unasked: readonly string[];
}

export type NextProbe =
  | { readonly says: string; readonly tune: ProbeTune; readonly bytes: Uint8Array }
  /** None where nothing was taken at all. */
  | { readonly done: ProbeResult | null };

/** Values that people choose: limits are looked for between these, each in three probes. */
const LOWS = [0, 21, 24, 28, 36, 41, 48];
const HIGHS = [127, 108, 96, 88, 84, 81, 72];
const VOICES = [16, 12, 8, 6, 4, 3, 2];
const STARTS = [0, 250, 500, 1000, 1500, 2000, 2500];
const PPQS = [96, 960];

/** A small tune that almost everything takes. */
export const PLAIN: ProbeTune = {
  format: 0,
  ppq: 480,
  channel: 1,
  keys: [60],
  together: 1,
  startMs: 3000,
};

/** What is tried until something is taken, the likeliest first. */
const HUNT: readonly Partial<ProbeTune>[] = [
  {},
  { format: 1 },
  { channel: 10 },
  { ppq: 96 },
  { channel: 10, keys: [38] },
  { format: 1, channel: 10 },
  { keys: [45] },
  { ppq: 960 },
  { format: 1, ppq: 96 },
  { channel: 16 },
  { keys: [76] },
  { format: 1, ppq: 960 },
  { ppq: 192 },
  { channel: 2 },
  { format: 1, channel: 10, keys: [38] },
  { channel: 10, ppq: 96 },
];

const sayChange = ({ format, channel, ppq, keys }: Partial<ProbeTune>): string =>
  [
    format === undefined ? '' : `SMF format ${format}`,
    channel === undefined ? '' : `channel ${channel}`,
    ppq === undefined ? '' : `PPQ ${ppq}`,
    keys === undefined ? '' : `note ${keys[0]}`,
  ]
    .filter(Boolean)
    .join(', ') || 'a plain tune';

/**
 * The next small file to try, or what all answers together say. First something that is taken is looked
 * for; from then on each probe differs from it in one thing, and a limit is found by halves.
 * @param answers those so far, in their order
 * @param first what is tried first, such as what a file has that was taken
 */
export function nextProbe(answers: readonly Answered[], first: ProbeTune = PLAIN): NextProbe {
  try {
    return { done: asked(new Questions(answers), first) };
  } catch (question) {
    if (!(question instanceof Ask)) throw question;
    const { says, tune } = question;
    return { says, tune, bytes: writeProbe(tune) };
  }
}

function asked(questions: Questions, first: ProbeTune): ProbeResult | null {
  const refused: ProbeTune[] = [];
  let base: ProbeTune | null = null;
  for (const change of HUNT) {
    const tune = { ...first, ...change };
    if (JSON.stringify(tune) === JSON.stringify(first) && change !== HUNT[0]) continue;
    if (!questions.isLeft) return null;
    if (questions.ask(sayChange(change), 'a plain tune', tune)) {
      base = tune;
      break;
    }
    refused.push(tune);
  }
  if (!base) return null;
  const found = base;
  const ask = (says: string, about: string, change: Partial<ProbeTune>) => {
    const tune = { ...found, ...change };
    // The same was refused on the way.
    const own = JSON.stringify(tune);
    if (refused.some((r) => JSON.stringify(r) === own)) return false;
    return questions.ask(says, about, tune);
  };
  const other = found.format === 0 ? 1 : 0;
  const formats = ask(`SMF format ${other}`, 'SMF formats', { format: other })
    ? [0, 1]
    : [found.format];
  const strange = found.channel === 10 ? 1 : 10;
  const channels = ask(`channel ${strange}`, 'channels', { channel: strange })
    ? ALL
    : [found.channel];
  /** By halves over what people choose, the widest first. */
  const search = (
    about: string,
    values: readonly number[],
    word: (v: number) => string,
    make: (v: number) => Partial<ProbeTune>,
  ) => {
    let best = values.length;
    let from = 0;
    while (from < best) {
      const mid = Math.floor((from + best) / 2);
      if (ask(word(values[mid]!), about, make(values[mid]!))) best = mid;
      else from = mid + 1;
    }
    return values[best];
  };
  const key = found.keys[0]!;
  const note = (v: number) => `note ${v}`;
  const both = (v: number) => ({ keys: [key, v] });
  const lowest =
    search(
      'the lowest note',
      LOWS.filter((l) => l < key),
      note,
      both,
    ) ?? key;
  const highest =
    search(
      'the highest note',
      HIGHS.filter((h) => h > key),
      note,
      both,
    ) ?? key;
  const range: [number, number] = [lowest, highest];
  const together =
    search(
      'notes at once',
      VOICES.filter((v) => v > found.together && v <= highest - lowest + 1),
      (n) => `${n} notes at once`,
      (n) => ({ together: n, within: range }),
    ) ?? found.together;
  const startMs =
    search(
      'the first note',
      STARTS.filter((s) => s < found.startMs),
      (ms) => `first note at ${ms.toLocaleString('en-GB')} ms`,
      (ms) => ({ startMs: ms }),
    ) ?? found.startMs;
  const ppqs = [found.ppq];
  for (const ppq of PPQS.filter((p) => p !== found.ppq))
    if (ask(`PPQ ${ppq}`, 'PPQ', { ppq })) ppqs.push(ppq);
  ppqs.sort((a, b) => a - b);
  return {
    formats,
    ppqs,
    channels,
    lowest,
    highest,
    together,
    startMs,
    unasked: questions.unasked,
  };
}

/** Questions, answered one after the other; what goes beyond the most is not asked: it is a no. */
class Questions {
  private at = 0;
  private readonly open = new Set<string>();
  constructor(private readonly answers: readonly Answered[]) {}

  get isLeft(): boolean {
    return this.at < MOST_PROBES;
  }
  get unasked(): string[] {
    return [...this.open];
  }
  ask(says: string, about: string, tune: ProbeTune): boolean {
    if (!this.isLeft) {
      this.open.add(about);
      return false;
    }
    const given = this.answers[this.at++];
    if (!given) throw new Ask(says, tune);
    return given.taken;
  }
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
