import { defineRule, mend, says, spanAt } from '../define-rule';
import { strandOf, strandParts } from '../../reading/strands';
import { strands as strandStep } from '../../steps/chain';
import { nearest } from '../../diagnostic/say-problems';

export const strandNames = defineRule({
  id: 'strand-names',
  summary: 'Strands with names of their own, that the game listens for.',
  story: {
    why: 'A track was renamed in the session, and the game still listens for its old name.',
    mends: 'Each gets a name of its own, the nearest that is listened for where there is one.',
  },
  block: 'strands',
  phase: 'seating',
  codes: {
    'strand-unknown': says<{ name: string; names: string }>({
      title: 'Strand without a listener',
      wrong: (f) => `“${f.name}” is none of the names that are listened for.`,
      then: (f, w) => `${w.Target} listens for ${f.names} and passes over the rest.`,
    }),
    'strand-twice': says<{ name: string; times: number }>({
      title: 'Two strands with one name',
      wrong: (f) => `${f.times} parts are named “${f.name}”.`,
      then: (_, w) => `${w.Target} keeps the last of them.`,
    }),
  },
  check({ block, piece, report }) {
    const parts = strandParts(piece);
    const named = parts.map((part) => ({ part, strand: strandOf(piece, part) }));
    const taken = new Set(named.map(({ strand }) => strand.name));
    const call = ({ part, strand }: (typeof named)[number], title: string, name: string) =>
      mend(title, strandStep, { kind: strand.kind, value: strand.value, name }, [part]);
    for (const name of taken) {
      const same = named.filter(({ strand }) => strand.name === name);
      if (same.length < 2) continue;
      // The first keeps its name; names that are listened for come before numbers.
      const free = (block.names ?? []).filter((n) => !taken.has(n));
      const steps = same.slice(1).flatMap((n, i) => {
        const to = free[i] ?? nextName(name, taken);
        taken.add(to);
        return call(n, '', to).steps;
      });
      report({
        code: 'strand-twice',
        cause: name,
        // The last one is heard.
        notes: Uint32Array.from(same.slice(0, -1).flatMap(({ part }) => [...part.notes.id])),
        data: { name, times: same.length },
        measured: { value: same.length, unit: 'parts' },
        mends: [{ title: 'Give each a name of its own', steps }],
      });
    }
    if (!block.names) return;
    const listened = new Set(block.names);
    for (const entry of named) {
      const { part, strand } = entry;
      if (listened.has(strand.name)) continue;
      const near = nearest(
        strand.name,
        block.names.filter((n) => !taken.has(n)),
      );
      report({
        code: 'strand-unknown',
        part,
        notes: part.notes.id.slice(),
        spans: [spanAt(part.notes.start[0]!)],
        data: { name: strand.name, names: block.names.slice(0, 6).join(', ') },
        allowed: { names: block.names },
        ...(near === null
          ? { noMend: 'Give it one of these names with the step “Strands”, or leave it out.' }
          : { mends: [call(entry, `Call it “${near}”`, near)] }),
      });
    }
  },
});

function nextName(name: string, taken: ReadonlySet<string>): string {
  for (let n = 2; ; n++) if (!taken.has(`${name} ${n}`)) return `${name} ${n}`;
}
