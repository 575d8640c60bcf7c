import { plainName } from '../smf/name';
import type { Target } from './schema';

export type Naming = NonNullable<Target['naming']>;

/** The letters that a name may not hold. */
export const outside = ({ letters }: Naming): RegExp =>
  letters === 'any' ? /[/\\:*?"<>|]/g : new RegExp(`[^${letters}]`, 'g');

/** Whether a target takes a file of this name. */
export function nameAllowed(naming: Naming, name: string): boolean {
  if (naming.only) return naming.only.includes(name);
  if (!name.endsWith(naming.ending)) return false;
  const stem = name.slice(0, -naming.ending.length);
  if (naming.prefixes && !naming.prefixes.some((p) => stem.startsWith(p) && stem.length > p.length))
    return false;
  return (
    stem.length > 0 &&
    [...stem].length <= naming.longest &&
    !outside(naming).test(stem) &&
    // Another one would be written.
    plainName(name) === name
  );
}
