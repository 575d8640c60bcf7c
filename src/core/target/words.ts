import type { Target } from './schema';

export * from '../diagnostic/words';

/** How sentences speak of a target and of its notes. */
export interface TargetWords {
  /** "the rail" */
  readonly target: string;
  /** "The rail" */
  readonly Target: string;
  readonly note: string;
  readonly notes: string;
}

const upper = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

export function wordsOf(target: Target): TargetWords {
  const words = target.words ?? { target: `the ${target.name}`, note: 'note', notes: 'notes' };
  return { ...words, Target: upper(words.target) };
}
