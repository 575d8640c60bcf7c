import type { Piece } from '../../score/piece';
import { nameAllowed, outside, type Naming } from '../../target/naming';
import { defineRule, mend, says } from '../define-rule';
import { nameFile } from '../../steps/delivery';
import { besideDevices, plainName, stemOf } from '../../smf/name';

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

/** The number at its beginning where there are such, else the name: what a target has once. */
export const placeOfName = ({ prefixes }: Naming, name: string): string =>
  prefixes?.find((p) => name.startsWith(p)) ?? name;
/** The same where case tells no two apart. */
const placeKey = (naming: Naming, name: string) => placeOfName(naming, name).toLowerCase();

/** A name that the target lists, as close as can be to the given one, that takes no taken place. */
function freeName(naming: Naming, name: string, taken: ReadonlySet<string>): string | null {
  const { only, prefixes, longest, ending } = naming;
  const isFree = (n: string) => nameAllowed(naming, n) && !taken.has(placeKey(naming, n));
  const fitted = fitName(naming, name);
  if (only || isFree(fitted)) return (only ?? [fitted]).find(isFree) ?? null;
  const stem = fitted.slice(0, -ending.length);
  const lead = prefixes?.find((p) => stem.startsWith(p)) ?? '';
  const bare = stem.slice(lead.length);
  for (const p of prefixes ?? []) {
    const numbered = cut(p + bare, longest) + ending;
    if (isFree(numbered)) return numbered;
  }
  for (let n = 2; n < 1000; n++) {
    const tail = naming.letters === 'any' ? `-${n}` : String(n);
    const other = cut(lead + bare, longest - tail.length) + tail + ending;
    if (isFree(other)) return other;
  }
  return null;
}

/**
 * The name that each piece of a delivery should have: its own where the target lists it and none
 * before it has it, else the nearest that is free; null where there is none.
 */
export function namesFor(naming: Naming, pieces: readonly Piece[]): (string | null)[] {
  const taken = new Set<string>();
  const kept = pieces.map(({ delivery: { fileName } }) => {
    const place = placeKey(naming, fileName);
    if (!nameAllowed(naming, fileName) || taken.has(place)) return null;
    taken.add(place);
    return fileName;
  });
  return pieces.map(({ delivery: { fileName } }, i) => {
    const name = kept[i] ?? freeName(naming, fileName, taken);
    if (name !== null) taken.add(placeKey(naming, name));
    return name;
  });
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
  check({ block, piece, pieces, index, report }) {
    const name = piece.delivery.fileName;
    if (nameAllowed(block, name)) return;
    const to = namesFor(block, pieces)[index] ?? null;
    report({
      code: 'file-name',
      data: { name, allowed: sayNaming(block) },
      allowed: { ...block },
      ...(to === null
        ? { noMend: 'No name that it lists is free: leave this file out.' }
        : { mends: [mend(`Name it ${to}`, nameFile, { name: to })] }),
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
