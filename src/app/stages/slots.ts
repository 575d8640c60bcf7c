import type { Target } from '../../core/target/schema';
import { count } from '../../core/target/words';

/** A place that takes a file, a pad or a pattern, and how long what it takes may be. */
export interface Slot {
  readonly id: string;
  readonly name: string;
  readonly fileName: string;
  takes(bars: number): boolean;
  /** "1 to 16 bars". */
  readonly says: string;
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
  if (onlyBars) return `it takes ${onlyBars.map(sayBars).join(' or ')}`;
  if (mostBars === undefined) return '';
  return leastBars === undefined
    ? `it takes up to ${sayBars(mostBars)}`
    : `it takes ${leastBars} to ${sayBars(mostBars)}`;
}

/** The slots of a target, by what its data says: places, names that begin with a pad, patterns. */
export function slotsOf(target: Target, stem: string): Slot[] {
  const slot = (id: string, name: string, fileName: string, lengths: Lengths): Slot => ({
    ...{ id, name, fileName },
    takes: takesOf(lengths),
    says: sayLengths(lengths),
  });
  const files = target.seats.flatMap((s) =>
    s.kind === 'file' ? [slot(s.id, s.name, s.fileName, s)] : [],
  );
  if (files.length > 0) return files;
  const lengths = target.end ?? {};
  const prefixes = target.naming?.prefixes ?? [];
  if (prefixes.length > 0)
    return prefixes.map((p) =>
      slot(p, p.replace(/[^A-Za-z0-9]+$/, ''), `${p}${stem}${target.naming!.ending}`, lengths),
    );
  return (target.chains?.patterns ?? []).map((letter) =>
    slot(letter, `Pattern ${letter}`, `${letter}.mid`, lengths),
  );
}
