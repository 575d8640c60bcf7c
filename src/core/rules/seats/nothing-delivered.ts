import type { Piece } from '../../score/piece';
import { count } from '../../target/words';
import { defineRule, says } from '../define-rule';
import { isDrumPart } from '../../reading/importance/drums';
import { isIn } from '../../score/score';
import { callStep } from '../../steps/define-step';
import { route, setChannel } from '../../steps/routing';
import { kindOfTarget } from '../../target/seat-kind';
import { heardIn } from '../../target/heard';

/** Parts that are offered to be played as drums. */
const MOST_WAYS = 4;

export const nothingDelivered = defineRule({
  id: 'nothing-delivered',
  summary: 'Something is delivered: a target with seats gets notes.',
  story: {
    why: 'Every part was left out, or had no seat: the file is right in form, and silent.',
    mends: 'None: who plays is chosen in Seating.',
  },
  block: 'seats',
  phase: 'seating',
  over: 'delivery',
  codes: {
    'no-notes': says<{ came: number; cameText: string }>({
      title: 'Delivery without notes',
      wrong: (f) =>
        f.came === 0
          ? 'The source holds no note.'
          : `Of ${f.cameText} none is left: every part is left out or has no seat.`,
      then: (_, w) => `${w.Target} gets a file in which nothing happens.`,
    }),
    'no-drums': says<{ parts: number }>({
      title: 'Drum part missing',
      wrong: (f) =>
        `None of the ${count(f.parts, 'part')} is drums: ${f.parts === 1 ? 'it is' : 'all are'} left out.`,
      then: (_, w) => `${w.Target} plays drums alone, and would play nothing.`,
    }),
    'file-empty': says<{ file: string }>({
      title: 'File without notes',
      wrong: (f) => `“${f.file}” holds no note.`,
      then: (_, w) => `${w.Target} plays nothing for it.`,
    }),
  },
  check({ block: seats, target, pieces, base, report }) {
    // Where nothing can be seated nothing needs to be.
    if (seats.length === 0 || target.carrier) return;
    // What listens to no notes gets presets and values instead.
    const notes = (list: readonly Piece[], delivered: boolean) =>
      list.map(({ score }) =>
        score.parts.reduce((n, p) => n + (delivered && !isIn(p) ? 0 : heardIn(p, target)), 0),
      );
    const held = notes(pieces, true);
    if (held.every((n) => n === 0)) {
      const came = notes(base.rendition.pieces, false).reduce((a, b) => a + b, 0);
      const lines = pieces.flatMap((p) => p.score.parts.filter((o) => o.notes.count > 0));
      if (kindOfTarget(target) === 'drums' && lines.length > 0 && !lines.some(isDrumPart)) {
        const busiest = [...lines]
          .sort((a, b) => b.notes.count - a.notes.count)
          .slice(0, MOST_WAYS);
        report({
          code: 'no-drums',
          data: { parts: lines.length },
          measured: { value: 0, unit: 'notes' },
          mends: busiest.map((part) => ({
            title: `Play “${part.name}” as drums: its keys become drums`,
            byHand: true,
            steps: [
              callStep(route, { seat: '' }, { parts: [part.ref] }),
              ...(target.channels
                ? [
                    callStep(
                      setChannel,
                      { channel: target.channels.only[0]! },
                      { parts: [part.ref] },
                    ),
                  ]
                : []),
            ],
          })),
        });
        return;
      }
      report({
        code: 'no-notes',
        data: { came, cameText: count(came, 'note') },
        measured: { value: 0, unit: 'notes' },
        noMend: came === 0 ? 'Bring in a file with notes.' : 'Seat a part in Seating.',
      });
      return;
    }
    held.forEach((n, i) => {
      if (n > 0) return;
      const file = pieces[i]!.delivery.fileName;
      report({
        code: 'file-empty',
        cause: file,
        severity: 'caution',
        data: { file },
        measured: { value: 0, unit: 'notes' },
        noMend: 'Carve it from other bars, or leave it out of the carving.',
      });
    });
  },
});
