import type { Target } from './schema';

/**
 * Stands in for a target that was not chosen yet: it takes everything as it is, so that nothing is
 * judged before somebody said what it is for. It stands on no shelf.
 */
export const UNSAID: Target = {
  schemaVersion: 1,
  id: 'unsaid',
  version: '1.0.0',
  name: 'No target yet',
  summary: 'No target is chosen: nothing is judged',
  seats: [],
  seating: { unseated: 'taken' },
  outputs: [{ writer: 'smf' }],
  checklist: [],
};

export const isUnsaid = (target: { readonly id: string } | null | undefined): boolean =>
  target?.id === UNSAID.id;
