import { readJoined, readSaid } from './patterns';
import type { Rows, Value } from './schema';

/** A value as it was found: what it says, and where it stands in the file. */
export interface ReadValue {
  readonly value: Value;
  readonly said: string | number | boolean | null;
  /** From here on, up to there: letters of a text, bytes of a binary file. */
  readonly from: number;
  readonly to: number;
}

/** What stands together: the file as a whole, or one row of it. */
export interface ReadRow {
  /** None for the file itself. */
  readonly of: Rows | null;
  readonly values: ReadValue[];
  readonly rows: ReadRow[];
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

export const newRow = (of: Rows | null): ReadRow => ({ of, values: [], rows: [] });

/** Takes the value that a text says, or those that stand together in it; false where it says none. */
export function takeText(
  into: ReadRow,
  value: Value,
  text: string,
  { from, to, decimal }: { from: number; to: number; decimal: string },
): boolean {
  if (value.is === 'joined') {
    const parts = readJoined(value, text, decimal);
    if (!parts) return false;
    for (const p of parts)
      into.values.push({ value: p.value, said: p.said, from: from + p.from, to: from + p.to });
    return true;
  }
  const said = readSaid(value, text, decimal);
  if (said === undefined) return false;
  into.values.push({ value, said, from, to });
  return true;
}
