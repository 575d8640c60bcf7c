import { diffArrays } from 'diff';
import type { FileLine, FileLines, InkOf } from './file-lines';

/** Lines of two files beside each other: what both have, what differs, what stands in one alone. */
export interface BesideRow {
  /** Index of its line in the file as it is now; null where only the other has it. */
  readonly mine: number | null;
  readonly other: number | null;
  readonly same: boolean;
  /** What differs, in words of music. */
  readonly says?: string;
}

export interface FileBeside {
  readonly other: FileLines;
  readonly rows: readonly BesideRow[];
  /** Rows that are not the same in both. */
  readonly differ: number;
}

/** Two files that have more than that apart are no versions of each other: they are laid by number. */
const MOST_EDITS = 1500;

/** A line by what stands in it, wherever it stands: of bytes their meaning too. */
const signOf = ({ text, says = '' }: FileLine) => `${text}\n${says}`;

/** Lays the lines of another file beside those of this one, so that as many as can be are the same. */
export function layBeside(mine: FileLines, other: FileLines): FileBeside {
  const changes = diffArrays(other.lines.map(signOf), mine.lines.map(signOf), {
    maxEditLength: MOST_EDITS,
  });
  const places = changes === undefined ? byNumber(mine, other) : byChanges(changes);
  let differ = 0;
  const rows = places.map((row): BesideRow => {
    const [a, b] = [lineAt(mine, row.mine), lineAt(other, row.other)];
    if (a && b && signOf(a) === signOf(b)) return { ...row, same: true };
    differ++;
    const says = a && b ? sayChange(b, a) : undefined;
    return { ...row, same: false, ...(says ? { says } : {}) };
  });
  return { other, rows, differ };
}

const lineAt = ({ lines }: FileLines, i: number | null) => (i === null ? undefined : lines[i]);

type Place = Pick<BesideRow, 'mine' | 'other'>;

function byNumber(mine: FileLines, other: FileLines): Place[] {
  const count = Math.max(mine.lines.length, other.lines.length);
  return Array.from({ length: count }, (_, i) => ({
    mine: i < mine.lines.length ? i : null,
    other: i < other.lines.length ? i : null,
  }));
}

/** Of what goes and what comes at one place each line stands beside its own, in their order. */
function byChanges(
  changes: readonly { count: number; added: boolean; removed: boolean }[],
): Place[] {
  const rows: Place[] = [];
  let [mine, other] = [0, 0];
  for (let i = 0; i < changes.length; i++) {
    const change = changes[i]!;
    if (!change.added && !change.removed) {
      for (let n = 0; n < change.count; n++) rows.push({ mine: mine++, other: other++ });
      continue;
    }
    const next = changes[i + 1];
    const both = change.removed && next?.added === true;
    const [gone, come] = both
      ? [change.count, next.count]
      : change.removed
        ? [change.count, 0]
        : [0, change.count];
    if (both) i++;
    for (let n = 0; n < Math.max(gone, come); n++)
      rows.push({ mine: n < come ? mine++ : null, other: n < gone ? other++ : null });
  }
  return rows;
}

const INK_WORDS: Readonly<Record<InkOf, string>> = {
  time: 'time',
  key: 'key',
  velocity: 'velocity',
  who: 'who plays',
  text: 'text',
  count: 'count',
  frame: '',
};

/** What became of a line: value by value where both have the same values, else what its bytes mean. */
function sayChange(was: FileLine, is: FileLine): string | undefined {
  const alike =
    was.inks.length === is.inks.length && was.inks.every((k, i) => k.ink === is.inks[i]!.ink);
  const told = was.says !== undefined && is.says !== undefined && was.says !== is.says;
  const out: string[] = [];
  if (alike)
    was.inks.forEach((k, i) => {
      const now = is.inks[i]!;
      const [before, after] = [was.text.slice(k.from, k.to), is.text.slice(now.from, now.to)];
      if (before === after) return;
      const isEvent = was.says !== undefined;
      if (isEvent && k.ink === 'time') return void out.push(sayDelta(before, after));
      // What the other bytes of an event mean its words say.
      if (!isEvent && k.ink !== 'frame') out.push(`${INK_WORDS[k.ink]} ${before} → ${after}`);
    });
  if (told) out.push(`${was.says} → ${is.says}`);
  return out.length > 0 ? out.join('; ') : undefined;
}

/** Ticks from the event before, out of bytes of seven bits. */
const ticksOf = (hex: string) =>
  hex.split(' ').reduce((n, byte) => n * 128 + (parseInt(byte, 16) & 127), 0);

function sayDelta(before: string, after: string): string {
  const [was, is] = [ticksOf(before), ticksOf(after)];
  return `${is} ticks after the event before, not ${was}`;
}
