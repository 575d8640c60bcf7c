import type { InjectionKey, Ref } from 'vue';

/** What the fields of a page know of the rest of it. */
export interface SentencePageContext {
  readonly seats: Readonly<Ref<readonly { readonly id: string; readonly name: string }[]>>;
  /** Paths whose values were learnt from a file and not confirmed yet. */
  readonly learnt: Readonly<Ref<ReadonlySet<string>>>;
}

export const PAGE: InjectionKey<SentencePageContext> = Symbol('page of sentences');
