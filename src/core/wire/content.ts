import { count } from '../target/words';
import type { PartView } from './view';

/** Whether something stands behind the start: what only sets a channel up is none. */
const moves = (ticks: Int32Array): boolean => ticks.length > 0 && ticks[ticks.length - 1]! > 0;

/** A part that is one: it has notes, or presets and curves that go on behind the start. */
export const hasContent = ({ columns, turns }: Pick<PartView, 'columns' | 'turns'>): boolean =>
  columns.count > 0 ||
  (turns !== null &&
    (moves(turns.presets.tick) || turns.curves.some((curve) => moves(curve.tick))));

/** Presets and values of a part, counted. */
export function turnsCounted({ turns }: Pick<PartView, 'turns'>): {
  presets: number;
  values: number;
} {
  return {
    presets: turns?.presets.tick.length ?? 0,
    values: turns?.curves.reduce((n, c) => n + c.tick.length, 0) ?? 0,
  };
}

/** Notes by their number; what has none by its presets and values. */
export function sayContent(part: Pick<PartView, 'columns' | 'turns'>): string {
  const notes = part.columns.count;
  const { presets, values } = turnsCounted(part);
  if (notes > 0 || presets + values === 0) return notes.toLocaleString('en-GB');
  return [
    ...(presets > 0 ? [count(presets, 'preset')] : []),
    ...(values > 0 ? [count(values, 'value')] : []),
  ].join(', ');
}
