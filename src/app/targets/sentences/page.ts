import type { InjectionKey, Ref } from 'vue';
import type { Data } from '../../../core/target/sentences';

/** What the fields of a page know of the rest of it. */
export interface SentencePageContext {
  readonly seats: Readonly<Ref<readonly { readonly id: string; readonly name: string }[]>>;
  /** Paths whose values were learnt from a file and not confirmed yet. */
  /** Formats of its own, by their ids. */
  readonly formats: Readonly<Ref<readonly { readonly id: string; readonly name: string }[]>>;
  /** The whole target, as it is now. */
  readonly target: Readonly<Ref<Data>>;
  readonly learnt: Readonly<Ref<ReadonlySet<string>>>;
}

export const PAGE: InjectionKey<SentencePageContext> = Symbol('page of sentences');
