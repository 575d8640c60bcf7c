import type { End } from './whole-bars';
import type { Piece } from '../../score/piece';
import { OFF_MISSING } from '../../score/score';
import { SpanList, defineRule, mend, says, spanAt } from '../define-rule';
import { deliveredEnd } from '../../reading/ends';
import { pairStuck } from '../../steps/spacing/pair-stuck';
import { seamOf } from '../../reading/seam';
import { stateSeam } from '../../steps/loop';
import { strip } from '../../steps/strip';

/** The marker where the loop begins; tick 0 where the target names none. */
function loopStart(block: End, { score }: Piece): number | null {
  if (block.loopMarker === undefined) return 0;
  return score.conductor.markers.find((m) => m.text === block.loopMarker)?.tick ?? null;
}

const SLOT_WORDS: Readonly<Record<number, string>> = {
  0xb001: 'the wheel',
  0xb007: 'the level',
  0xb00a: 'the side',
  0xb00b: 'the expression',
  0xb040: 'the sustain pedal',
  0xb042: 'the sostenuto pedal',
  0xc000: 'the program',
  0xe000: 'the bend',
};

export const seam = defineRule({
  id: 'seam',
  summary: 'Where it goes round, nothing hangs and nothing jumps.',
  story: {
    why: 'A level is ridden down at the end and never set again at the start.',
    mends:
      'What is in force where the loop begins is said there again, or the changes inside it are taken out.',
  },
  block: 'end',
  reads: ['loops'],
  phase: 'end',
  codes: {
    'seam-hangs': says<{ countText: string }>({
      title: 'Notes ring over the loop point',
      wrong: (f) => `${f.countText} not end before the loop goes round.`,
      then: (_, w) => `${w.Target} goes back with them still sounding, one more in each round.`,
    }),
    'seam-jumps': says<{ name: string; what: string }>({
      title: 'Sound changes at the loop point',
      wrong: (f) => `${f.what} of “${f.name}” differs at the end from the start of the loop.`,
      then: () => 'The first round sounds as it should and every later one does not.',
    }),
  },
  check({ heard, block, piece, report, target }) {
    if (!block.loops) return;
    const from = loopStart(block, piece);
    if (from === null) return;
    const end = deliveredEnd(piece);
    const hanging = new SpanList();
    for (const part of heard()) {
      for (let i = 0; i < part.notes.count; i++)
        if (part.notes.offKind[i] === OFF_MISSING) hanging.add(part, i);
    }
    if (hanging.count > 0)
      report({
        code: 'seam-hangs',
        ...hanging.found,
        data: { countText: hanging.count === 1 ? 'One note does' : `${hanging.count} notes do` },
        measured: { value: hanging.count, unit: 'notes' },
        mends: [
          mend('End the notes with their bar', pairStuck, { until: 'bar-end' }),
          mend('Give the notes their usual length', pairStuck, { until: 'median' }),
        ],
      });
    const again = block.loopMarker === undefined ? {} : { marker: block.loopMarker };
    for (const part of heard()) {
      if (part.notes.count === 0) continue;
      const differs = seamOf(part.events, from, end);
      if (differs.length === 0) continue;
      const controllers = differs.filter((d) => d.slot < 0xc000).map((d) => d.slot - 0xb000);
      // Where a target takes set-up once at the start only, saying it again is no mend.
      const once = target.events?.controllersOnceAtStart !== undefined;
      report({
        code: 'seam-jumps',
        part,
        spans: [spanAt(from), spanAt(Math.max(from, end - 1))],
        data: {
          name: part.name,
          what: upper(differs.map((d) => SLOT_WORDS[d.slot]!).join(' and ')),
        },
        measured: { value: differs.length, unit: 'values' },
        mends: [
          ...(once
            ? []
            : [mend('Repeat the setting where the loop begins', stateSeam, again, [part])]),
          ...(controllers.length === differs.length
            ? [
                {
                  title: 'Take the changes inside the loop out',
                  steps: mend('', strip, { kinds: ['controllers' as const], controllers }, [
                    part,
                  ]).steps.map((s) => ({ ...s, scope: { ...s.scope, fromTick: from + 1 } })),
                },
              ]
            : once
              ? [mend('Repeat the setting where the loop begins', stateSeam, again, [part])]
              : []),
        ],
      });
    }
  },
});

const upper = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
