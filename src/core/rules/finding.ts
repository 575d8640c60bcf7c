import type { StepCall } from '../steps/call';

export type Severity = 'stop' | 'caution' | 'remark';

export interface Quantity {
  readonly value: number;
  readonly unit: string;
}

export interface Span {
  readonly fromTick: number;
  readonly toTick: number;
}

/** Numbers and words that the sentences of a finding are made from. */
export type Facts = Readonly<Record<string, string | number | readonly number[]>>;

/** Steps that a finding offers. Whether they lose anything is worked out, never declared. */
export interface Mend {
  readonly title: string;
  readonly steps: readonly StepCall[];
  /** Changes what the music is: taken where somebody chooses it, never with many at once. */
  readonly byHand?: true;
}

/** What a rule reports. Sentences are made from `code` and `data` at the very end. */
export interface Finding {
  /** The same over re-runs: rule, code, part, cause. */
  readonly key: string;
  readonly rule: string;
  readonly code: string;
  readonly severity: Severity;
  /** Index of the piece concerned, where a delivery has several. */
  readonly piece?: number;
  /** Id of the part concerned; null where it is the piece as a whole. */
  readonly part: string | null;
  readonly spans: readonly Span[];
  /** Ids of all notes concerned. */
  readonly notes: Uint32Array;
  readonly data: Facts;
  readonly measured?: Quantity;
  readonly allowed?: Readonly<Record<string, unknown>>;
  readonly mends: readonly Mend[];
  /** What is to be chosen: the mends are candidates then, the likeliest first, and none is taken unasked. */
  readonly choice?: string;
  /** Its mends stand in the order of what the ear bears, which no count of notes tells. */
  readonly ranked?: true;
  /** Why there is no mend, where there is none. */
  readonly noMend?: string;
}

export const SEVERITIES: readonly Severity[] = ['stop', 'caution', 'remark'];
