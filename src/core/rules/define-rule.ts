import type { Facts, Finding, Mend, Quantity, Severity, Span } from './finding';
import type { LineNotes } from '../reading/lines';
import type { Reading } from '../reading/reading';
import { sortByKey } from '../score/columns';
import type { Piece } from '../score/piece';
import type { Listened } from '../sound/beside';
import type { Part } from '../score/score';
import type { Base } from '../sources/merge';
import type { StepCall } from '../steps/call';
import { callStep, type StepDefinition } from '../steps/define-step';
import type { Target, TargetBlock } from '../target/schema';
import type { TargetWords } from '../target/words';

/** The order in which mends are applied when many are. */
export const PHASES = [
  'integrity',
  'seating',
  'tempo and meter',
  'start',
  'notes',
  // What comes too soon goes before lengths are looked at: room that is made first is not fought for.
  'density',
  'spacing',
  'events',
  'end',
  'naming',
  // When all is there that has to be: room that is made sooner is taken by what comes then.
  'size',
] as const;
export type Phase = (typeof PHASES)[number];

/** Sentences of a code, made from its facts: what is wrong, and what the target will do. */
export interface CodeText<F = Facts> {
  readonly title: string;
  /** A title of its own, where the target names what is broken. */
  readonly named?: (facts: F) => string;
  readonly wrong: (facts: F, words: TargetWords) => string;
  readonly then: (facts: F, words: TargetWords) => string;
}

/** Of a code whose sentences need no facts. */
export type NoFacts = Readonly<Record<never, never>>;

/** The sentences of a code, with the facts that a report of it must bring. */
export const says = <F>(text: CodeText<F>): CodeText<F> => text;

/** Why people meet a rule, and what its mends do; for its page in the reference. */
export interface RuleStory {
  readonly why: string;
  readonly mends: string;
}

// A function of facts is contravariant in them: `never` lets codes of any facts stand together.
type Codes = Readonly<Record<string, CodeText<never>>>;

/** What a rule may report, by its codes: a code brings its own facts. */
type FoundBy<C extends Codes> = {
  [K in keyof C & string]: C[K] extends CodeText<infer F>
    ? Omit<Found, 'code' | 'data'> & { readonly code: K } & (keyof F extends never
          ? { readonly data?: never }
          : { readonly data: Readonly<F> })
    : never;
}[keyof C & string];

export interface RuleInput<B, C extends Codes = Codes> extends Reading {
  readonly block: NonNullable<B>;
  readonly target: Target;
  /** All pieces of the delivery, and which of them is looked at. */
  readonly pieces: readonly Piece[];
  readonly index: number;
  /** Length of the sound that plays beside it, as the plan leaves it; null where it was not given. */
  readonly recordingMs: number | null;
  /** Name of that sound; null where it was not brought in. */
  readonly soundName: string | null;
  /** What is heard in that sound and when, as the plan leaves it; null where it was not listened to. */
  readonly listened: Listened | null;
  readonly base: Base;
  readonly report: (found: FoundBy<C>) => void;
  /** Says once that something outside the piece was not given, and how to give it. */
  readonly need: (what: Need) => void;
}

/** What a rule may need beside the piece. */
export type Need = 'recording' | 'declared';

export const NEEDS: Readonly<Record<Need, CodeText>> = {
  recording: {
    title: 'Sound not given',
    wrong: () => 'The length of the sound that plays beside this is not known here.',
    then: (_, w) => `What ${w.target} asks of it is not checked.`,
  },
  declared: {
    title: 'Declared BPM not given',
    wrong: () => 'No BPM is declared for this song.',
    then: (_, w) =>
      `Whether it agrees with the file is not checked, and ${w.target} goes by what is declared.`,
  },
};

/** How each is given. */
export const GIVE: Readonly<Record<Need, string>> = {
  recording: 'Bring in the recording, or say how long it is in a step “Metadata”.',
  declared: 'Say it in a step “Metadata”.',
};

/** What a rule says of one cause; the runner adds key, rule and severity. */
export interface Found {
  readonly code: string;
  readonly part?: Part;
  /** Tells findings of one code and part apart. */
  readonly cause?: string;
  /** Where it is not the block's own severity. */
  readonly severity?: Severity;
  readonly spans?: readonly Span[];
  readonly notes?: Uint32Array;
  readonly data?: Facts;
  readonly measured?: Quantity;
  readonly allowed?: Readonly<Record<string, unknown>>;
  readonly mends?: readonly Mend[];
  readonly choice?: string;
  readonly ranked?: boolean;
  readonly noMend?: string;
}

/** A rule as it is written: facts typed by code, the block by its name. */
interface RuleText<K extends TargetBlock | null, C extends Codes> {
  readonly id: string;
  readonly summary: string;
  readonly story: RuleStory;
  /** The block of the target that it reads; null where it holds for every target. */
  readonly block: K;
  /** Keys of that block of which it needs at least one; without them it is silent. */
  readonly reads?: readonly string[];
  readonly phase: Phase;
  readonly codes: C;
  readonly needs?: readonly Need[];
  /** `delivery` where it looks at all pieces at once; it is asked with the first. */
  readonly over?: 'piece' | 'delivery';
  check(input: RuleInput<K extends TargetBlock ? Target[K] : true, C>): void;
}

/** A rule as it is run, whatever it reads and says. */
export interface RuleDefinition extends Omit<
  RuleText<TargetBlock | null, Codes>,
  'codes' | 'check'
> {
  readonly codes: Readonly<Record<string, CodeText>>;
  check(
    input: Omit<RuleInput<never>, 'block' | 'report'> & {
      readonly block: unknown;
      readonly report: (found: Found) => void;
    },
  ): void;
}

export const defineRule = <K extends TargetBlock | null, const C extends Codes>(
  rule: RuleText<K, C>,
): RuleDefinition => rule as unknown as RuleDefinition;

/** A mend of one step. */
export const mend = <P>(
  title: string,
  step: StepDefinition<P>,
  params: P,
  parts?: readonly Part[],
): Mend => ({
  title,
  steps: [callStep(step, params, parts ? { parts: parts.map((p) => p.ref) } : {})],
});

/** The same mend, kept to where its finding stands. */
export const within = (of: Mend, spans: readonly Span[]): Mend => ({
  ...of,
  steps: of.steps.map((s) => ({ ...s, scope: { ...s.scope, stretches: spans } })),
});

export const mendBy = (title: string, ...steps: StepCall[]): Mend => ({ title, steps });

/** Gathers the notes of a finding and where they stand. */
export class SpanList {
  private readonly ids: number[] = [];
  private readonly from: number[] = [];
  private readonly to: number[] = [];

  get count(): number {
    return this.ids.length;
  }

  add(part: Part, index: number) {
    this.addNote(part.notes, index);
  }

  addNote(notes: Pick<LineNotes, 'id' | 'start' | 'end'>, index: number) {
    this.ids.push(notes.id[index]!);
    this.from.push(notes.start[index]!);
    this.to.push(notes.end[index]!);
  }

  /** Every rule adds a note once. */
  get notes(): Uint32Array {
    return Uint32Array.from(this.ids);
  }

  /** In tick order; what touches or overlaps is one. */
  get spans(): Span[] {
    const order = sortByKey(this.from);
    const out: { fromTick: number; toTick: number }[] = [];
    for (const i of order) {
      const last = out.at(-1);
      const toTick = Math.max(this.to[i]!, this.from[i]! + 1);
      if (last && this.from[i]! <= last.toTick) last.toTick = Math.max(last.toTick, toTick);
      else out.push({ fromTick: this.from[i]!, toTick });
    }
    return out;
  }

  get found(): { spans: Span[]; notes: Uint32Array } {
    return { spans: this.spans, notes: this.notes };
  }
}

export const spanAt = (tick: number): Span => ({ fromTick: tick, toTick: tick + 1 });

/** Nothing below a hair's breadth counts: derived clock times are rounded. */
export const HAIR = 1e-6;

export const findingKey = (rule: string, found: Found): string =>
  [rule, found.code, found.part ? partKey(found.part) : '*', found.cause ?? '']
    .join('/')
    .replace(/\/$/, '');

const partKey = ({ ref }: Part) => `${ref.track}#${ref.channel}.${ref.occurrence}`;

/** Whether a target says anything that a rule looks at. */
export function concerns({ block, reads }: RuleDefinition, target: Target): boolean {
  if (block === null) return true;
  const data = target[block] as Record<string, unknown> | undefined;
  if (data === undefined) return false;
  return reads?.some((key) => data[key] !== undefined) ?? true;
}

export const toFinding = (
  rule: RuleDefinition,
  severity: Severity | undefined,
  found: Found,
): Finding => ({
  key: findingKey(rule.id, found),
  rule: rule.id,
  code: found.code,
  severity: found.severity ?? severity ?? 'stop',
  part: found.part?.id ?? null,
  spans: found.spans ?? [],
  notes: found.notes ?? new Uint32Array(0),
  data: found.data ?? {},
  ...(found.measured ? { measured: found.measured } : {}),
  ...(found.allowed ? { allowed: found.allowed } : {}),
  mends: found.mends ?? [],
  ...(found.choice ? { choice: found.choice } : {}),
  ...(found.ranked ? { ranked: true } : {}),
  ...(found.noMend ? { noMend: found.noMend } : {}),
});
