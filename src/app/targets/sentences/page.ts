import type { InjectionKey, Ref } from 'vue';
import type { Evidence } from '../../../core/target/evidence';
import type { Data } from '../../../core/target/sentences';

/** What the fields of a page know of the rest of it. */
export interface SentencePageContext {
  readonly seats: Readonly<Ref<readonly { readonly id: string; readonly name: string }[]>>;
  /** Formats of its own, by their ids. */
  readonly formats: Readonly<Ref<readonly { readonly id: string; readonly name: string }[]>>;
  /** The whole target, as it is now. */
  readonly target: Readonly<Ref<Data>>;
  /** Paths whose values were learnt from a file and not confirmed yet. */
  readonly learnt: Readonly<Ref<ReadonlySet<string>>>;
  /** They are right as they are: no longer only learnt. */
  readonly confirm: (paths: readonly string[]) => void;
  readonly evidence: Readonly<Ref<ReadonlyMap<string, Evidence>>>;
}

export const PAGE: InjectionKey<SentencePageContext> = Symbol('page of sentences');
