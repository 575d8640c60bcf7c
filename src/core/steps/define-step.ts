import type * as z from 'zod';
import type { NoteAddress } from '../score/address';
import { mapsOf, type Maps } from '../score/inventory';
import type { Piece } from '../score/piece';
import { isIn, type Part, type PartRef, type Score } from '../score/score';
import { count } from '../target/words';
import type { TimeMap } from '../time/time-map';
import type { Effect, Reach, Scope, StepCall } from './call';

/** Which parts and notes a step may touch. */
export interface Selection {
  /** Neither a stretch nor single notes: whole parts. */
  readonly whole: boolean;
  /** Single notes were chosen. */
  readonly chosen: boolean;
  /** Whether a tick is in the stretches; always where there are none. */
  at(tick: number): boolean;
  part(part: Part): boolean;
  note(part: Part, index: number): boolean;
  /** Which of the notes that were chosen one by one this is, from 0; −1 where it is none. */
  place(part: Part, index: number): number;
  /** The part that a reference means, chosen or not. */
  find(ref: PartRef): Part | undefined;
  /** The origin of the note that an address means; null where the sources do not hold it. */
  origin(address: NoteAddress): number | null;
}

export interface StepInput<P> {
  readonly piece: Piece;
  readonly params: P;
  readonly select: Selection;
  readonly maps: Maps;
  /** The piece as it came in, before any step. */
  readonly came: Piece;
}

/** Something that a step took away, to be listed. */
export interface Loss {
  readonly what: string;
  readonly count: number;
}

export type StepResult =
  | {
      readonly piece: Piece;
      /** Where one piece became several; each with its captions and its map from the base. */
      readonly pieces?: readonly Piece[];
      /** Where the step moved time: captions and later scopes go along. */
      readonly map?: TimeMap;
      readonly effect: Effect;
      readonly losses: readonly Loss[];
      /** Notes that its parameters name and that are not to be found. */
      readonly missing?: readonly NoteAddress[];
    }
  | { readonly refused: string };

/** What names seats and places for people: a target, or as much of one. */
export interface Named {
  readonly seats: readonly { readonly id: string; readonly name: string }[];
}

/** The name of a seat or place; its id where the target is not known or has no such seat. */
export const nameOfSeat = (id: string, named?: Named): string =>
  named?.seats.find((seat) => seat.id === id)?.name ?? id;

export interface StepDefinition<P = unknown> {
  readonly id: string;
  readonly title: string;
  readonly summary: string;
  /** How fine a scope it honours; a finer one is refused before it runs. */
  readonly reach: Reach;
  readonly params: z.ZodType<P>;
  /** In words, without the scope: "up 12 semitones"; seats by their names where they are known. */
  describe(params: P, named?: Named): string;
  apply(input: StepInput<P>): StepResult;
}

export function defineStep<P>(step: StepDefinition<P>): StepDefinition<P> {
  return step;
}

/** Builds the call of a step, with its parameters checked by type. */
export const callStep = <P>(step: StepDefinition<P>, params: P, scope: Scope = {}): StepCall => ({
  step: step.id,
  params,
  scope,
  on: true,
});

export const NOTHING_DONE: Effect = {
  notesChanged: 0,
  notesDropped: 0,
  notesAdded: 0,
  events: 0,
  says: 'Nothing to change',
};

/** Counts, and the sentence that they make. */
export function effectOf(counts: {
  changed?: number;
  dropped?: number;
  added?: number;
  events?: number;
  /** What is said of changed notes: "moved", "transposed". */
  verb?: string;
  /** What the events are and what became of them: "controllers taken out". */
  eventWords?: string;
  /** Said where nothing else is. */
  says?: string;
}): Effect {
  const { changed = 0, dropped = 0, added = 0, events = 0 } = counts;
  const said = [
    changed > 0 ? `${count(changed, 'note')} ${counts.verb ?? 'changed'}` : '',
    dropped > 0 ? `${count(dropped, 'note')} left out` : '',
    added > 0 ? `${count(added, 'note')} added` : '',
    events > 0
      ? `${events.toLocaleString('en-GB')} ${oneOrMany(counts.eventWords ?? 'events changed', events)}`
      : '',
  ].filter(Boolean);
  return {
    notesChanged: changed,
    notesDropped: dropped,
    notesAdded: added,
    events,
    says: said.length > 0 ? said.join(', ') : (counts.says ?? NOTHING_DONE.says),
  };
}

/** "events taken out" is "event taken out" of one. */
const oneOrMany = (words: string, n: number) =>
  n === 1
    ? words.replace(/\b(event|label|marker|tempo|repeat|caption|preset|value|bank)s\b/, '$1')
    : words;

export const done = (
  piece: Piece,
  counts: Parameters<typeof effectOf>[0],
  losses: readonly Loss[] = [],
  map?: TimeMap,
): Extract<StepResult, { piece: Piece }> => ({
  piece,
  effect: effectOf(counts),
  losses: losses.filter((l) => l.count > 0),
  ...(map ? { map } : {}),
});

/** Gives ids that no note of the piece has or ever had; `keep` writes down how far it came. */
export class NewIds {
  private last: number;
  constructor({ score }: Piece) {
    this.last = score.lastId;
  }
  next = (): number => ++this.last;
  keep = (piece: Piece): Piece =>
    piece.score.lastId === this.last ? piece : withScore(piece, { lastId: this.last });
}

/** A piece with another score; the same object where nothing changed. */
export const withScore = (piece: Piece, score: Partial<Score>): Piece => ({
  ...piece,
  score: { ...piece.score, ...score },
});

/** Runs `change` over the selected parts that are not left out; untouched parts are shared. */
export function changeParts(
  { piece, select }: Pick<StepInput<unknown>, 'piece' | 'select'>,
  change: (part: Part) => Part,
  options: { leftOutToo?: boolean } = {},
): Piece {
  let touched = false;
  const parts = piece.score.parts.map((part) => {
    if (!select.part(part) || (!options.leftOutToo && !isIn(part))) return part;
    const next = change(part);
    if (next !== part) touched = true;
    return next;
  });
  return touched ? withScore(piece, { parts }) : piece;
}

export const everything = (piece: Piece): StepInput<undefined> => ({
  piece,
  params: undefined,
  maps: mapsOf(piece.score),
  came: piece,
  select: {
    whole: true,
    chosen: false,
    at: () => true,
    part: () => true,
    note: () => true,
    place: () => -1,
    find: () => undefined,
    origin: () => null,
  },
});
