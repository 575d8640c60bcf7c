import { count } from '../../target/words';
import { defineRule, mend, says } from '../define-rule';
import { isIn } from '../../score/score';
import { keepStrongest } from '../../steps/spacing/keep-strongest';
import { leaveOut } from '../../steps/routing';

export const noteCount = defineRule({
  id: 'note-count',
  summary: 'No more notes than the target holds.',
  story: {
    why: 'Fast hats and arpeggios fill a small memory.',
    mends:
      'The weakest notes go, doublings and the inside of chords first; or the smallest part that makes room enough is left out.',
  },
  block: 'notes',
  reads: ['most'],
  phase: 'notes',
  codes: {
    'too-many-notes': says<{ count: string; most: string }>({
      title: 'Too many notes',
      named: (f) => `${f.count} notes, holds ${f.most}`,
      wrong: (f) => `There are ${f.count} notes.`,
      then: (f, w) => `${w.Target} holds ${f.most} and stops reading there.`,
    }),
  },
  check({ block, piece, report }) {
    const most = block.most;
    if (most === undefined) return;
    const parts = piece.score.parts.filter((p) => isIn(p) && p.notes.count > 0);
    const total = parts.reduce((n, p) => n + p.notes.count, 0);
    if (total <= most) return;
    // The part with the fewest notes that is enough on its own, else the largest.
    const over = total - most;
    const enough = parts
      .filter((p) => p.notes.count >= over)
      .sort((a, b) => a.notes.count - b.notes.count)[0];
    report({
      code: 'too-many-notes',
      data: { count: total.toLocaleString('en-GB'), most: most.toLocaleString('en-GB') },
      measured: { value: total, unit: 'notes' },
      allowed: { most },
      mends: [
        mend(`Leave out the ${count(over, 'weakest note')}`, keepStrongest, { most }),
        ...(enough
          ? [
              mend(
                `Leave “${enough.name}” out (${count(enough.notes.count, 'note')})`,
                leaveOut,
                {},
                [enough],
              ),
            ]
          : []),
      ],
    });
  },
});
