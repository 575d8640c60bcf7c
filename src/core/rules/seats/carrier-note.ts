import { SpanList, defineRule, mend, says, type NoFacts } from '../define-rule';
import { carrierNote } from '../../steps/delivery';
import { isCarrier } from '../../reading/carrier';
import { isIn } from '../../score/score';
import { leaveOut } from '../../steps/routing';
import { playing } from './playing';

export const carrier = defineRule({
  id: 'carrier-note',
  summary: 'One soft note through the whole length, on its own track.',
  story: {
    why: 'Some programs drop a file without notes, and the tempo map with it.',
    mends: 'One soft note through the whole length, on a track of its own.',
  },
  block: 'carrier',
  phase: 'end',
  codes: {
    'carrier-missing': says<NoFacts>({
      title: 'Carrier note missing',
      wrong: () => 'The file holds no note.',
      then: (_, w) => `${w.Target} may drop a file without notes, and the tempo map with it.`,
    }),
    'carrier-differs': says<NoFacts>({
      title: 'Carrier note on another key',
      wrong: () => 'The notes of this file are not the one carrier note through the whole length.',
      then: (_, w) => `${w.Target} would play them.`,
    }),
  },
  check({ block, piece, report }) {
    const parts = piece.score.parts.filter((p) => isIn(p) && playing(p));
    const { channel, noteNumber, velocity, track } = block;
    const params = { channel, noteNumber, velocity, track };
    if (parts.length === 0) {
      report({
        code: 'carrier-missing',
        allowed: params,
        mends: [mend('Add the carrier note', carrierNote, params)],
      });
      return;
    }
    const right = parts.length === 1 && isCarrier(parts[0]!, piece.score, block);
    if (right) return;
    const places = new SpanList();
    for (const p of parts) for (let i = 0; i < p.notes.count; i++) places.add(p, i);
    report({
      code: 'carrier-differs',
      ...places.found,
      allowed: params,
      mends: [
        {
          title: 'Leave these notes out and add the carrier note',
          steps: [...mend('', leaveOut, {}, parts).steps, ...mend('', carrierNote, params).steps],
        },
      ],
    });
  },
});
