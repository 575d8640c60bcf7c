import { bpmOf } from '../../time/tempo-map';
import { clampTempo } from '../../steps/timing/clamp-tempo';
import { defineRule, mend, says, spanAt } from '../define-rule';
import {
  fastestIn,
  holdClockAt,
  sayHolding,
  slowestIn,
  stretches,
  tempoToHold,
  within,
} from './holding';
import { plain } from '../../target/words';
import { plainBpm } from '../../time/tempos';

export const tempoRange = defineRule({
  id: 'tempo-range',
  summary: 'Every tempo within the range of the target.',
  story: {
    why: 'A song was counted at half or double time.',
    mends: 'Hold clock time at a tempo that is allowed, or bring each tempo to the nearest limit.',
  },
  block: 'tempo',
  reads: ['lowestBpm', 'highestBpm'],
  phase: 'tempo and meter',
  codes: {
    'tempo-range': says<{ places: number; bpm: string; lowest: string; highest: string }>({
      title: 'Tempo out of range',
      named: (f) => `Tempo ${f.bpm} BPM, takes ${f.lowest} to ${f.highest}`,
      wrong: (f) =>
        `The tempo ${f.places === 1 ? 'is' : `is, in ${f.places} places,`} ${f.bpm} BPM.`,
      then: (f, w) =>
        `${w.Target} runs from ${f.lowest} to ${f.highest} BPM and would play at the nearest it has.`,
    }),
  },
  check({ block, piece, target, report }) {
    const fits = within(block);
    const out = stretches(piece.score).filter((t) => !fits(t.us));
    if (out.length === 0) return;
    const { lowestBpm, highestBpm } = block;
    const rates = out.map((t) => bpmOf(t.us));
    const worst = rates.reduce((a, b) => (distance(b) > distance(a) ? b : a));
    const worstUs = out.find((t) => bpmOf(t.us) === worst)!.us;
    function distance(rate: number) {
      return rate < (lowestBpm ?? 0) ? (lowestBpm ?? 0) / rate : rate / (highestBpm ?? Infinity);
    }
    report({
      code: 'tempo-range',
      spans: out.map((t) => spanAt(t.tick)),
      data: {
        places: out.length,
        bpm: plainBpm(worstUs),
        lowest: plain(lowestBpm ?? 0),
        highest: highestBpm === undefined ? 'any' : plain(highestBpm),
      },
      measured: { value: Math.round(worst * 1000) / 1000, unit: 'BPM' },
      allowed: { lowestBpm, highestBpm },
      mends: [
        holdClockAt(piece.score, target, tempoToHold(piece.score, block)),
        mend(
          sayHolding('Bring it to the nearest allowed tempo', piece.score, (us) =>
            Math.min(slowestIn(block), Math.max(fastestIn(block), us)),
          ),
          clampTempo,
          {
            ...(lowestBpm === undefined ? {} : { lowestBpm }),
            ...(highestBpm === undefined ? {} : { highestBpm }),
          },
        ),
      ],
    });
  },
});
