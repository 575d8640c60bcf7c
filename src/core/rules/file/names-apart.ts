import { defineRule, says } from '../define-rule';

export const namesApart = defineRule({
  id: 'names-apart',
  summary: 'No two files of a delivery take one name or one numbered place.',
  story: {
    why: 'Two patterns were numbered by two people.',
    mends: 'None: give one of them another name.',
  },
  block: 'naming',
  phase: 'naming',
  over: 'delivery',
  codes: {
    'name-taken': says<{ first: string; second: string; place: string }>({
      title: 'Two files with one name',
      wrong: (f) => `“${f.first}” and “${f.second}” both take ${f.place}.`,
      then: (_, w) => `${w.Target} keeps one of them.`,
    }),
  },
  check({ block, pieces, report }) {
    const taken = new Map<string, string>();
    for (const { delivery } of pieces) {
      const place =
        block.prefixes?.find((p) => delivery.fileName.startsWith(p)) ?? delivery.fileName;
      const first = taken.get(place.toLowerCase());
      if (first === undefined) taken.set(place.toLowerCase(), delivery.fileName);
      else
        report({
          code: 'name-taken',
          cause: delivery.fileName,
          data: { first, second: delivery.fileName, place },
          allowed: { once: place },
          noMend: 'Give one of the two another name.',
        });
    }
  },
});
