import type { Target } from '../../target/schema';
import { defineRule, mend, says } from '../define-rule';
import { nameFile } from '../../steps/delivery';
import { besideDevices, plainName, stemOf } from '../../smf/name';

type Naming = NonNullable<Target['naming']>;

const outside = (naming: Naming) =>
  naming.letters === 'any' ? /[/\\:*?"<>|]/g : new RegExp(`[^${naming.letters}]`, 'g');

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

/** A name that the target lists, as close to the given one as it can be. */
export function fitName(naming: Naming, name: string): string {
  const stem = stemOf(name)
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '');
  const cased =
    naming.letters === 'A-Z0-9'
      ? stem.toUpperCase()
      : naming.letters === 'a-z0-9'
        ? stem.toLowerCase()
        : stem;
  const lead = naming.prefixes?.some((p) => cased.startsWith(p))
    ? ''
    : (naming.prefixes?.[0] ?? '');
  const plain = plainName(besideDevices(cased.replace(outside(naming), '')));
  const fitted = besideDevices(cut(lead + plain, naming.longest));
  const bare = fitted === lead ? '' : shortened(fitted, naming.longest);
  const fallback = naming.letters === 'A-Z0-9' ? 'SONG' : 'song';
  return (bare || cut(lead + fallback, naming.longest)) + naming.ending;
}

/** As long as it may be; the number that tells it from a device stays. */
const shortened = (name: string, longest: number) =>
  [...name].length <= longest ? name : `${cut(name, longest - 1)}1`;
const cut = (name: string, longest: number) => [...name].slice(0, longest).join('');

export const fileName = defineRule({
  id: 'file-name',
  summary: 'The name of the delivered file.',
  story: {
    why: 'Names are given by people and read by small displays.',
    mends: 'The nearest name that it lists.',
  },
  block: 'naming',
  phase: 'naming',
  codes: {
    'file-name': says<{ name: string; allowed: string }>({
      title: 'File name not on the list',
      wrong: (f) => `The file would be named “${f.name}”.`,
      then: (f, w) => `${w.Target} lists ${f.allowed}; others it does not show.`,
    }),
  },
  check({ block, piece, report }) {
    const name = piece.delivery.fileName;
    if (nameAllowed(block, name)) return;
    const to = block.only ? block.only[0]! : fitName(block, name);
    report({
      code: 'file-name',
      data: { name, allowed: sayNaming(block) },
      allowed: { ...block },
      mends: [mend(`Name it ${to}`, nameFile, { name: to })],
    });
  },
});

function sayNaming({ only, prefixes, letters, longest, ending }: Naming): string {
  if (only) return `names such as ${only.slice(0, 4).join(', ')}`;
  const of = letters === 'any' ? 'letters' : `of ${letters}`;
  const lead = prefixes
    ? `names that begin with ${prefixes.slice(0, 3).join(', ')}${prefixes.length > 3 ? ` … ${prefixes.at(-1)}` : ''}, `
    : 'names ';
  return `${lead}of 1 to ${longest} ${of}, then ${ending}`;
}
