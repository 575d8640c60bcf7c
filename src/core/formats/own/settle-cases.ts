import type { Candidate } from './candidates';
import { pathsIn, type Path } from './interpret-grid';
import type { ReadRow } from './row';
import type { When } from './schema';
import { lay, likeliest } from './take-case';
import { beginsBy, find, flagsFrom, keyFrom, seatFrom, type Seated } from './whose';

/** Each place holds the value that is meant there, as far as seats, parts, keys and the like tell it. */
export function settleCases(file: ReadRow, target: Seated): void {
  for (const path of pathsIn(file))
    for (const choice of path.row.choices) {
      if (choice.can.length < 2) continue;
      const known = choice.can.map((c) => ({ c, is: isMeant(c.candidate, path, target) }));
      const own = known.find((k) => k.is === true)?.c;
      const open = known.filter((k) => k.is !== false).map((k) => k.c);
      lay(path.row, choice, own ?? likeliest(open.length > 0 ? open : choice.can));
    }
}

function isMeant({ when, not }: Candidate, path: Path, target: Seated): boolean | null {
  const all = [...when.map((w) => holds(w, path, target)), ...not.map((w) => no(w, path, target))];
  return all.includes(false) ? false : all.includes(null) ? null : true;
}
const no = (when: When, path: Path, target: Seated): boolean | null => {
  const is = holds(when, path, target);
  return is === null ? null : !is;
};

/** Whether a row is one of those that are meant; null where the file does not tell. */
function holds(when: When, path: Path, target: Seated): boolean | null {
  const { row } = path;
  const seat = seatFrom(path, target);
  const told: (boolean | null)[] = [];
  const tell = <T>(wanted: readonly T[] | undefined, is: T | null | undefined) => {
    if (wanted) told.push(is === null || is === undefined ? null : wanted.includes(is));
  };
  tell(when.seats, seat?.id);
  tell(when.rungs, seat?.rung);
  if (when.parts) {
    const part = find(path, (v) => (v.is === 'part' || v.is === 'track') && v.as !== 'number');
    tell(when.parts, part === null ? null : String(part.said));
  }
  if (when.keys) {
    const key = row.values.find((v) => v.value.is === 'key');
    tell(when.keys, key ? keyFrom(key, seat?.laneNotes ?? null) : null);
  }
  if (when.flag !== undefined)
    tell([when.flag], row.values.some((v) => v.value.is === 'flags') ? flagOf(when, path) : null);
  if (when.on !== undefined) {
    const own = row.values.find((v) => v.value.is === 'on-off');
    tell([when.on], own?.value.is === 'on-off' ? own.said === own.value.on : beginsBy(row));
  }
  if (BY_NOTE.some((k) => when[k] !== undefined)) told.push(null);
  return told.includes(false) ? false : told.includes(null) ? null : true;
}
/** What a note is by itself, and a file need not tell elsewhere. */
const BY_NOTE = [
  'longerMs',
  'shorterMs',
  'longerQuarters',
  'shorterQuarters',
  'harder',
  'softer',
] as const;
const flagOf = ({ flag }: When, path: Path) => (flagsFrom(path).includes(flag!) ? flag! : '');
