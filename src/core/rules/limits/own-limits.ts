import { breachesOf, type Breach } from '../../reading/measures';
import {
  asParams,
  canBeSet,
  endWithin,
  holdLimit,
  startWithin,
} from '../../steps/spacing/hold-limit';
import { isByNote, MEASURES, sayBounds, sayMeasure, type Limit } from '../../target/limit-schema';
import type { Target } from '../../target/schema';
import { count, plain } from '../../target/words';
import { defineRule, mend, says } from '../define-rule';
import type { Mend, Span } from '../finding';

export const ownLimits = defineRule({
  id: 'own-limits',
  summary: 'Limits of its own: a measure of the music, and its bounds.',
  story: {
    why: 'A target is strict about something that no block foresees.',
    mends: 'What breaks it is left out, or given the nearest value that keeps it.',
  },
  block: 'limits',
  phase: 'density',
  codes: {
    'own-limit': says<{
      title: string;
      why: string;
      times: string;
      measure: string;
      bounds: string;
      worst: string;
    }>({
      title: 'Limit of its own',
      named: (f) => f.title,
      wrong: (f) => `${f.times}. ${upper(f.measure)}: ${f.bounds}; here ${f.worst}.`,
      then: (f) => `${f.why.replace(/\.$/, '')}.`,
    }),
  },
  check({ block, piece, target, maps, report }) {
    const lanes = lanesOf(target);
    block.forEach((limit, n) => {
      const found = breachesOf(piece, limit, target);
      const seats = new Map<string | null, Breach[]>();
      for (const b of found) seats.set(b.seat, [...(seats.get(b.seat) ?? []), b]);
      for (const [seat, own] of seats) {
        const worst = own.reduce((a, b) => (offBy(limit, b.value) > offBy(limit, a.value) ? b : a));
        const parts = [...new Set(own.flatMap((b) => (b.note ? [b.note.part] : [])))];
        const { unit, words } = MEASURES[limit.measure];
        const mends: Mend[] = [];
        const params = {
          ...asParams(limit),
          ...(lanes.length > 0 && limit.measure === 'jump' ? { lanes } : {}),
        };
        // Between two ticks there may be no length, and no place, that keeps it.
        const settable =
          canBeSet(limit) &&
          own.every(({ fromTick, toTick }) =>
            limit.measure === 'length-ms'
              ? endWithin(limit, fromTick, toTick, maps.clock) !== null
              : !limit.measure.startsWith('place-') || startWithin(limit, fromTick, maps) !== null,
          );
        if (settable)
          mends.push(
            mend(
              `Give them the nearest ${words}`,
              holdLimit,
              { ...params, by: 'nearest' as const },
              parts,
            ),
          );
        if (isByNote(limit))
          mends.push(
            mend(
              'Leave out the notes beyond the limit',
              holdLimit,
              { ...params, by: 'drop' as const },
              parts,
            ),
          );
        report({
          code: 'own-limit',
          cause: `${n + 1}${seat === null ? '' : ` ${seat}`}`,
          ...(parts.length === 1 ? { part: parts[0]! } : {}),
          ...(limit.severity ? { severity: limit.severity } : {}),
          spans: spansOf(own),
          notes: Uint32Array.from(own.flatMap((b) => (b.note ? [b.note.id] : []))),
          data: {
            title: limit.title,
            why: limit.why,
            times: count(own.length, own[0]!.note ? 'note' : 'time'),
            measure: sayMeasure(limit),
            bounds: sayBounds(limit),
            worst: `${plain(worst.value)}${unit ? ` ${unit}` : ''}`,
          },
          measured: { value: Math.round(worst.value * 1000) / 1000, unit: unit || 'note number' },
          allowed: { ...limit },
          ...(mends.length > 0 ? { mends } : { noMend: NONE }),
        });
      }
    });
  },
});

const upper = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

const NONE =
  'No single note breaks this: change the music by the steps of tempo, meter, length or parts.';

/** How far a value lies outside the bounds. */
function offBy({ least = -Infinity, most = Infinity, oneOf }: Limit, value: number): number {
  if (oneOf) return Math.min(...oneOf.map((o) => Math.abs(o - value)));
  return Math.max(least - value, value - most, 0);
}

function spansOf(list: readonly Breach[]): Span[] {
  const out: { fromTick: number; toTick: number }[] = [];
  for (const b of [...list].sort((a, c) => a.fromTick - c.fromTick)) {
    const last = out.at(-1);
    if (last && b.fromTick <= last.toTick) last.toTick = Math.max(last.toTick, b.toTick);
    else out.push({ fromTick: b.fromTick, toTick: b.toTick });
  }
  return out;
}

const lanesOf = ({ seats }: Target) =>
  seats.flatMap((s) => (s.kind === 'laneGroup' ? [{ seat: s.id, keys: s.laneNotes }] : []));
