import { strokeOf, type CurveEdit } from '../../stores/curve-edit';
import type { StampHands } from './stamps';

const CONTROL = 0xb0;

/** What was stamped and turned as changes of curves, controller by controller, in the order played. */
export function editsOf(
  { strokes, board }: Pick<StampHands, 'strokes' | 'board'>,
  clock: { tickAt(ms: number): number },
): { readonly number: number; readonly edits: readonly CurveEdit[] }[] {
  const { dial } = board;
  const out = new Map<number, CurveEdit[]>();
  for (const { number, points } of strokes) {
    const path = points.map((p) => ({
      tick: Math.round(clock.tickAt(p.us / 1000)),
      value: p.value,
    }));
    const first = path[0]!.tick;
    // Points at the rate that the device takes; a stamp is a single one.
    const slot =
      number === dial?.number
        ? Math.ceil(clock.tickAt(points[0]!.us / 1000 + 1000 / dial.perSecond) - first)
        : 1;
    const edit =
      path.length > 1
        ? strokeOf(CONTROL, path, Math.max(1, slot))
        : { fromTick: first, toTick: first + 1, points: path };
    if (edit) out.set(number, [...(out.get(number) ?? []), edit]);
  }
  return [...out].map(([number, edits]) => ({ number, edits }));
}
