import { allowedKeys, limitsFor } from '../../core/target/limits';
import type { Target } from '../../core/target/schema';
import type { NoteView, PartView } from '../../core/wire/view';
import { firstReaching } from '../sheet/layout';

/** What of the music the close-up shows, and how it lies on the canvas. All lengths in pixels. */
export interface View {
  readonly fromTick: number;
  readonly ticksPerPixel: number;
  readonly width: number;
  readonly height: number;
  /** Keys from the highest to the lowest, one a row. */
  readonly highest: number;
  readonly rows: number;
  /** Indices of parts that stand in front. */
  readonly front: readonly number[];
  readonly faint: readonly number[];
  /** Keys that are there; null where all are. */
  readonly allowed: readonly boolean[] | null;
}

/** The axis with its names on the left; places above; velocities below. */
export const AXIS = 92;
export const HEAD = 18;
export const FOOT = 34;

export const rowHeight = (v: View): number => Math.max(1, (v.height - HEAD - FOOT) / v.rows);
export const xAt = (v: View, tick: number): number => AXIS + (tick - v.fromTick) / v.ticksPerPixel;
export const tickAt = (v: View, x: number): number =>
  Math.round(v.fromTick + (x - AXIS) * v.ticksPerPixel);
export const yAt = (v: View, key: number): number => HEAD + (v.highest - key) * rowHeight(v);
export const keyAt = (v: View, y: number): number =>
  Math.max(0, Math.min(127, v.highest - Math.floor((y - HEAD) / rowHeight(v))));
export const lastTick = (v: View): number => tickAt(v, v.width);

const FEWEST_ROWS = 14;

/** Keys that one seat or another has; null where one of them takes every key. */
function keysOf(
  seats: readonly (string | null)[],
  target: Target | null,
): readonly boolean[] | null {
  if (!target || seats.length === 0) return null;
  const all = seats.map((seat) => limitsFor(target, { seat }));
  if (all.some((limits) => !limits)) return null;
  const tables = all.map((limits) => allowedKeys(limits!));
  return Array.from({ length: 128 }, (_, key) => tables.some((t) => t[key]));
}

/** Rows for what the front parts use, and for what their seat has close by. */
export function rowsFor(
  parts: readonly PartView[],
  front: readonly number[],
  target: Target | null,
): Pick<View, 'highest' | 'rows' | 'allowed'> {
  let [low, high] = [128, -1];
  for (const i of front) {
    const { columns, lowest, highest } = parts[i]!;
    if (columns.count === 0) continue;
    low = Math.min(low, lowest);
    high = Math.max(high, highest);
  }
  if (high < 0) [low, high] = [55, 67];
  const allowed = keysOf([...new Set(front.map((i) => parts[i]!.seat))], target);
  let [bottom, top] = [low - 2, high + 2];
  // Of the seat only what is within an octave: the music shall stay large.
  if (allowed)
    for (let key = 0; key < 128; key++)
      if (allowed[key] && key >= low - 12 && key <= high + 12) {
        bottom = Math.min(bottom, key);
        top = Math.max(top, key);
      }
  const more = Math.max(0, Math.ceil((FEWEST_ROWS - (top - bottom + 1)) / 2));
  bottom = Math.max(0, bottom - more);
  top = Math.min(127, top + more);
  return { highest: top, rows: top - bottom + 1, allowed };
}

export interface Hit {
  readonly part: number;
  readonly index: number;
  /** At its end, so that a drag lengthens it. */
  readonly edge: boolean;
}

/** Calls back for every note of a part that reaches into a stretch of ticks. */
export function eachIn(
  part: PartView,
  fromTick: number,
  toTick: number,
  see: (columns: NoteView, index: number) => void,
): void {
  const { columns } = part;
  for (let i = firstReaching(part, fromTick); i < columns.count; i++) {
    if (columns.start[i]! >= toTick) return;
    if (columns.end[i]! >= fromTick) see(columns, i);
  }
}

const NEAR = 3;
const EDGE = 6;

/** The note under a point: of those in front, the one that begins last. */
export function hitAt(v: View, parts: readonly PartView[], x: number, y: number): Hit | null {
  if (x < AXIS || y < HEAD || y > v.height - FOOT) return null;
  const key = keyAt(v, y);
  const [from, to] = [tickAt(v, x - NEAR), tickAt(v, x + NEAR)];
  let found: Hit | null = null;
  for (const part of v.front)
    eachIn(parts[part]!, from, to + 1, ({ noteNumber, start, end }, index) => {
      if (noteNumber[index] !== key) return;
      const [left, right] = [xAt(v, start[index]!), xAt(v, end[index]!)];
      if (x < left - NEAR || x > Math.max(right, left + 3) + NEAR) return;
      found = { part, index, edge: right - left > EDGE * 2 && x > right - EDGE };
    });
  return found;
}

/** Ids of the notes in front that a box touches. */
export function idsIn(
  v: View,
  parts: readonly PartView[],
  box: { left: number; right: number; top: number; bottom: number },
): number[] {
  const [high, low] = [keyAt(v, box.top), keyAt(v, box.bottom)];
  const out: number[] = [];
  for (const part of v.front)
    eachIn(parts[part]!, tickAt(v, box.left), tickAt(v, box.right) + 1, (columns, i) => {
      const key = columns.noteNumber[i]!;
      if (key <= high && key >= low) out.push(columns.id[i]!);
    });
  return out;
}

/** Of the chosen notes those that are the highest, or the lowest, where several begin together. */
export function endsOfChords(
  parts: readonly PartView[],
  chosen: ReadonlySet<number>,
  which: 'top' | 'bottom',
): number[] {
  const best = new Map<number, { key: number; id: number }>();
  for (const { columns } of parts)
    for (let i = 0; i < columns.count; i++) {
      if (!chosen.has(columns.id[i]!)) continue;
      const [tick, key] = [columns.start[i]!, columns.noteNumber[i]!];
      const there = best.get(tick);
      if (!there || (which === 'top' ? key > there.key : key < there.key))
        best.set(tick, { key, id: columns.id[i]! });
    }
  return [...best.values()].map((b) => b.id);
}

/** The nearest line of a grid, counted from the start of its bar. */
export const onGrid = (tick: number, barStart: number, grid: number): number =>
  grid <= 0 ? tick : barStart + Math.round((tick - barStart) / grid) * grid;
