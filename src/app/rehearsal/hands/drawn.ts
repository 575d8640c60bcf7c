import type { HandsSeen } from '../scene';
import type { Pen } from '../pen';
import type { Doing } from './hands';

/** How long the last press is told. */
const TOLD_US = 1_200_000;

/** The key that strikes here, pressed or not. */
export function keyCap(pen: Pen, x: number, y: number, hands: HandsSeen, doing: Doing) {
  const { colour } = pen;
  const name = hands.keyOf(doing);
  const wide = Math.max(22, name.length * 8 + 10);
  const down = hands.held.has(doing.id);
  pen.rect(
    x - wide / 2,
    y - 10,
    wide,
    20,
    { fill: down ? colour.gold : colour.page, stroke: colour.ink, width: down ? 2 : 1 },
    4,
  );
  pen.words(name, x, y, {
    size: 12,
    weight: 600,
    align: 'center',
    colour: down ? '#1d2433' : colour.ink,
  });
}

/** By how much the last press was off. */
export function sayError(pen: Pen, x: number, y: number, { last, us }: HandsSeen) {
  if (!last || us - last.atUs > TOLD_US || us < last.atUs - 200_000) return;
  const { errorUs } = last;
  const ms = errorUs === null ? null : Math.round(errorUs / 1000);
  const says =
    ms === null ? 'beside' : ms === 0 ? 'on it' : `${Math.abs(ms)} ms ${ms < 0 ? 'early' : 'late'}`;
  pen.words(says, x, y, { align: 'center', weight: 600, size: 15 });
}
