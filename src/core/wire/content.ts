import { count } from '../target/words';
import { turnsBy } from '../target/heard';
import { hearsCurves } from '../target/hearing';
import type { Target } from '../target/schema';
import type { PartView } from './view';

type Content = Pick<PartView, 'columns' | 'turns'>;

const lastOf = (ticks: Int32Array): number => ticks.at(-1) ?? -1;

/**
 * Which parts are parts, and no set-up of a channel: what has notes, and beside them what the target
 * turns by presets and curves. Where nobody says so, what goes on behind the first note of the piece.
 */
export function contentOf(
  parts: readonly Content[],
  target: Pick<Target, 'presets' | 'curves'> | null,
): (part: Content) => boolean {
  if (target && hearsCurves(target)) {
    const turns = turnsBy(target);
    return ({ columns, turns: own }) =>
      columns.count > 0 ||
      (own !== null &&
        ((target.presets !== undefined && own.presets.tick.length > 0) ||
          own.curves.some((c) => c.tick.length > 0 && turns(c.kind, c.number))));
  }
  const first = parts.reduce(
    (least, { columns }) => (columns.count > 0 ? Math.min(least, columns.start[0]!) : least),
    Infinity,
  );
  const from = Number.isFinite(first) ? first : 0;
  return ({ columns, turns: own }) =>
    columns.count > 0 ||
    (own !== null &&
      (lastOf(own.presets.tick) > from || own.curves.some((c) => lastOf(c.tick) > from)));
}

/** Presets and values of a part, counted. */
function turnsCounted({ turns }: Pick<PartView, 'turns'>): {
  presets: number;
  values: number;
} {
  return {
    presets: turns?.presets.tick.length ?? 0,
    values: turns?.curves.reduce((n, c) => n + c.tick.length, 0) ?? 0,
  };
}

/** Notes by their number; what has none by its presets and values. */
export function sayContent(part: Content): string {
  const notes = part.columns.count;
  const { presets, values } = turnsCounted(part);
  if (notes > 0 || presets + values === 0) return notes.toLocaleString('en-GB');
  return [
    ...(presets > 0 ? [count(presets, 'preset')] : []),
    ...(values > 0 ? [count(values, 'value')] : []),
  ].join(', ');
}
