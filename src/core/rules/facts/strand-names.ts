import { defineRule, says, spanAt } from '../define-rule';
import { isIn } from '../../score/score';

export const strandNames = defineRule({
  id: 'strand-names',
  summary: 'Strands with names of their own, that the game listens for.',
  story: {
    why: 'A track was renamed in the session, and the game still listens for its old name.',
    mends: 'None: names are yours to choose. Join parts of one name with the step “Join parts”.',
  },
  block: 'strands',
  phase: 'seating',
  codes: {
    'strand-unknown': says<{ name: string; names: string }>({
      title: 'Nobody listens for it',
      wrong: (f) => `“${f.name}” is none of the names that are listened for.`,
      then: (f, w) => `${w.Target} listens for ${f.names} and passes over the rest.`,
    }),
    'strand-twice': says<{ name: string; times: number }>({
      title: 'Two strands of one name',
      wrong: (f) => `${f.times} parts are named “${f.name}”.`,
      then: (_, w) => `${w.Target} keeps the last of them.`,
    }),
  },
  check({ block, piece, report }) {
    const parts = piece.score.parts.filter((p) => isIn(p) && p.notes.count > 0);
    const times = new Map<string, number>();
    for (const p of parts) times.set(p.name, (times.get(p.name) ?? 0) + 1);
    for (const [name, n] of times) {
      if (n < 2) continue;
      report({
        code: 'strand-twice',
        cause: name,
        data: { name, times: n },
        measured: { value: n, unit: 'parts' },
        noMend: 'Join them with the step “Join parts”, or leave one out.',
      });
    }
    if (!block.names) return;
    const listened = new Set(block.names);
    for (const part of parts) {
      if (listened.has(part.name)) continue;
      report({
        code: 'strand-unknown',
        part,
        spans: [spanAt(part.notes.start[0]!)],
        data: { name: part.name, names: block.names.slice(0, 6).join(', ') },
        allowed: { names: block.names },
        noMend: 'Rename the track in the source, or add the name to the target.',
      });
    }
  },
});
