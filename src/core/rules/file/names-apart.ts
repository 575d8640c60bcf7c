import { callStep } from '../../steps/define-step';
import { nameFile } from '../../steps/delivery';
import { defineRule, says } from '../define-rule';
import { namesFor, placeOfName } from './file-name';

export const namesApart = defineRule({
  id: 'names-apart',
  summary: 'No two files of a delivery take one name or one numbered place.',
  story: {
    why: 'Two patterns were numbered by two people.',
    mends: 'The second takes a name or a number that is free.',
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
    const names = namesFor(block, pieces);
    for (const [i, { delivery }] of pieces.entries()) {
      const { fileName } = delivery;
      const place = placeOfName(block, fileName);
      const first = taken.get(place.toLowerCase());
      if (first === undefined) {
        taken.set(place.toLowerCase(), fileName);
        continue;
      }
      // Steps find a file by its name: of two that are called alike neither can be meant.
      const told = pieces.filter((p) => p.delivery.fileName === fileName).length === 1;
      const to = told ? names[i] : null;
      report({
        code: 'name-taken',
        cause: fileName,
        data: { first, second: fileName, place },
        allowed: { once: place },
        ...(to
          ? {
              mends: [
                {
                  title: `Name the second ${to}`,
                  steps: [callStep(nameFile, { name: to }, { file: fileName })],
                },
              ],
            }
          : { noMend: 'Give one of the two another name.' }),
      });
    }
  },
});
