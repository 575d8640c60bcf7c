import type { Candidate } from './candidates';
import type { Rows, Value, When } from './schema';

// What was read of a file: rows within rows, each with its values.

/** A place where several values could stand, with those that what stands there can be. */
export interface ReadChoice {
  readonly can: readonly {
    readonly candidate: Candidate;
    readonly values: readonly ReadValue[];
    /** Entries of a list that stands there. */
    readonly rows: readonly ReadRow[];
  }[];
}

/** A value as it was found: what it says, and where it stands in the file. */
export interface ReadValue {
  readonly value: Value;
  readonly said: string | number | boolean | null;
  /** From here on, up to there: letters of a text, bytes of a binary file. */
  readonly from: number;
  readonly to: number;
  /** Where others could stand as well. */
  readonly choice?: ReadChoice;
}

/** What stands together: the file as a whole, or one row of it. */
export interface ReadRow {
  /** None for the file itself. */
  readonly of: Rows | null;
  readonly values: ReadValue[];
  readonly rows: ReadRow[];
  readonly choices: ReadChoice[];
  /** What it is, or is not, by what is there for some rows alone. */
  readonly told: { readonly when: When; readonly is: boolean }[];
}

export interface ReadProblem {
  /** A line from 1 or an offset in bytes, in words. */
  readonly at: string;
  readonly says: string;
}
export type ReadResult =
  | { readonly file: ReadRow; readonly problem?: undefined }
  | { readonly file?: undefined; readonly problem: ReadProblem };

/** Thrown inside the reader alone, and caught where it begins. */
export class Unread extends Error {
  constructor(
    readonly at: string,
    readonly says: string,
  ) {
    super(says);
  }
}

export const newRow = (of: Rows | null): ReadRow => ({
  of,
  values: [],
  rows: [],
  choices: [],
  told: [],
});
