import type { ExampleResult } from '../core/handover/target-pack';
import type { Answered, ProbeResult } from '../core/learning/probes';
import type { Amiss, Proposal } from '../core/learning/separate';
import type { Described } from '../core/outputs/example/describe';
import type { Target } from '../core/target/schema';

/** Of what crosses to the worker all that is learnt from files somebody brings. */

export interface DescribeRequest {
  readonly name: string;
  readonly bytes: ArrayBuffer;
  readonly scoreName: string;
  readonly score: ArrayBuffer;
  readonly target: Target;
}
export type DescribeReply = Described | { readonly problem: string };

export interface SeparateRequest {
  /** What became of those that are not taken. */
  readonly amiss: Amiss;
  readonly trials: readonly {
    readonly name: string;
    readonly bytes: ArrayBuffer;
    readonly taken: boolean;
  }[];
}
type ProposalView = Pick<Proposal, 'says' | 'twins' | 'nearest' | 'sets'>;
export interface SeparateReply {
  readonly proposals: readonly ProposalView[];
  readonly unexplained: readonly string[];
  readonly advice: string | null;
  readonly problem: string | null;
}

export type PackReply =
  | {
      readonly target: Target;
      readonly results: readonly ExampleResult[];
      readonly problems: readonly [];
    }
  | { readonly target?: undefined; readonly problems: readonly string[] };

export type ProbeReply =
  | { readonly says: string; readonly bytes: Uint8Array; readonly answered: Answered }
  | { readonly done: ProbeResult | null };
