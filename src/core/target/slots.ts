import type { Target } from './schema';
import { count } from './words';

/** A place that takes a file, a pad or a pattern, and how long what it takes may be. */
export interface Slot {
  readonly id: string;
  readonly name: string;
  readonly fileName: string;
  /** When it is played as a song goes on, where the target says so. */
  readonly plays: 'lead-in' | 'round' | 'break' | 'crossing' | 'end' | null;
  /** Of a crossing: ids of the slots that it leads from and to. */
  readonly from: string | null;
  readonly to: string | null;
  /** A song cannot do without it. */
  readonly needed: boolean;
  takes(bars: number): boolean;
  /** "half a bar or 1 bar"; empty where any length is taken. */
  readonly says: string;
  /** The same where there is little room: "½, 1 bars". */
  readonly short: string;
  /** Whether a file of the delivery lies in it, by the place that a step gave it or by its name. */
  holds(file: { readonly name: string; readonly place: string | null }): boolean;
}

interface Lengths {
  readonly onlyBars?: readonly number[] | undefined;
  readonly leastBars?: number | undefined;
  readonly mostBars?: number | undefined;
}

const takesOf =
  ({ onlyBars, leastBars = 0, mostBars = Infinity }: Lengths) =>
  (bars: number) =>
    onlyBars ? onlyBars.includes(bars) : bars >= leastBars && bars <= mostBars;

const sayBars = (n: number) => (n === 0.5 ? 'half a bar' : count(n, 'bar'));
function sayLengths({ onlyBars, leastBars, mostBars }: Lengths): string {
  if (onlyBars) return onlyBars.map(sayBars).join(' or ');
  if (mostBars === undefined) return '';
  return leastBars === undefined
    ? `up to ${sayBars(mostBars)}`
    : `${leastBars} to ${sayBars(mostBars)}`;
}

function sayShort({ onlyBars, leastBars, mostBars }: Lengths): string {
  if (onlyBars) {
    const all = onlyBars.map((n) => (n === 0.5 ? '½' : String(n))).join(', ');
    return `${all} ${onlyBars.every((n) => n <= 1) ? 'bar' : 'bars'}`;
  }
  if (mostBars === undefined) return '';
  if (mostBars <= 1) return 'up to 1 bar';
  return leastBars === undefined ? `up to ${mostBars} bars` : `${leastBars}–${mostBars} bars`;
}

/** The slots of a target, by what its data says: places, names that begin with a pad, patterns. */
export function slotsOf(target: Target, stem: string): Slot[] {
  const slot = (
    more: Pick<Slot, 'id' | 'name' | 'fileName'> & Partial<Slot>,
    lengths: Lengths,
  ): Slot => ({
    plays: null,
    from: null,
    to: null,
    needed: false,
    takes: takesOf(lengths),
    says: sayLengths(lengths),
    short: sayShort(lengths),
    holds: ({ name, place }) =>
      place === null ? name.toLowerCase() === more.fileName.toLowerCase() : place === more.id,
    ...more,
  });
  const files = target.seats.flatMap((s) =>
    s.kind === 'file'
      ? [
          slot(
            {
              id: s.id,
              name: s.name,
              fileName: s.fileName,
              plays: s.plays ?? null,
              from: s.from ?? null,
              to: s.to ?? null,
              needed: s.optional !== true,
            },
            s,
          ),
        ]
      : [],
  );
  if (files.length > 0) return files;
  const lengths = target.end ?? {};
  const prefixes = target.naming?.prefixes ?? [];
  if (prefixes.length > 0)
    return prefixes.map((p) =>
      slot(
        {
          id: p,
          name: `Place ${p.replace(/[^A-Za-z0-9]+$/, '')}`,
          fileName: `${p}${stem}${target.naming!.ending}`,
          holds: ({ name }) => name.startsWith(p),
        },
        lengths,
      ),
    );
  return (target.chains?.patterns ?? []).map((letter) =>
    slot({ id: letter, name: `Pattern ${letter}`, fileName: `${letter}.mid` }, lengths),
  );
}
