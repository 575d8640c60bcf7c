import type { CurveView } from '../../core/wire/view';
import { SHEET_COLOURS } from '../sheet/inks';
import { SANS } from '../sheet/letters';
import { firstAt, fullOf, type CurvePoint } from '../stores/curve-edit';
import { AXIS } from './geometry';
import type { Thinned } from '../../core/steps/curves/thinned';

/** Where a lane of one curve lies on its canvas. */
export interface LaneView {
  readonly fromTick: number;
  readonly ticksPerPixel: number;
  readonly width: number;
  readonly height: number;
}
const PAD = 5;

export const laneX = (v: LaneView, tick: number): number =>
  AXIS + (tick - v.fromTick) / v.ticksPerPixel;
export const laneTick = (v: LaneView, x: number): number =>
  Math.max(0, Math.round(v.fromTick + (x - AXIS) * v.ticksPerPixel));
export const laneY = (v: LaneView, value: number, kind: number): number =>
  PAD + (v.height - 2 * PAD) * (1 - value / fullOf(kind));
export const laneValue = (v: LaneView, y: number, kind: number): number => {
  const share = 1 - (y - PAD) / Math.max(1, v.height - 2 * PAD);
  return Math.round(Math.max(0, Math.min(1, share)) * fullOf(kind));
};

const NEAR = 5;

/** The point under a place: the nearest of those within reach. */
export function pointAt(v: LaneView, curve: CurveView, x: number, y: number): number | null {
  let best: { i: number; far: number } | null = null;
  const until = laneTick(v, x + NEAR);
  for (let i = firstAt(curve, laneTick(v, x - NEAR)); i < curve.tick.length; i++) {
    if (curve.tick[i]! > until) break;
    const far = Math.hypot(laneX(v, curve.tick[i]!) - x, laneY(v, curve.value[i]!, curve.kind) - y);
    if (far <= NEAR + 2 && (!best || far < best.far)) best = { i, far };
  }
  return best?.i ?? null;
}

export interface LaneInput {
  readonly context: CanvasRenderingContext2D;
  readonly view: LaneView;
  readonly curve: CurveView;
  readonly name: string;
  readonly ink: string;
  readonly light: 'paper' | 'booth';
  readonly bars: readonly { readonly tick: number; readonly bar: number }[];
  /** Values that the target does not take lie on hatched ground. */
  readonly range: { readonly lowest: number; readonly highest: number } | null;
  /** Stretches that a finding names. */
  readonly spans: readonly { readonly fromTick: number; readonly toTick: number }[];
  readonly chosen: ReadonlySet<number>;
  /** The chosen points where the hand holds them now. */
  readonly held: readonly CurvePoint[];
  readonly stroke: readonly CurvePoint[];
  readonly sweep: { left: number; right: number; top: number; bottom: number } | null;
  readonly thinned: Thinned | null;
}

export function drawLane(input: LaneInput): void {
  const { context: c, view: v, curve, light, name, ink } = input;
  const colour = SHEET_COLOURS[light];
  const yOf = (value: number) => laneY(v, value, curve.kind);
  c.clearRect(0, 0, v.width, v.height);
  c.fillStyle = colour.page;
  c.fillRect(AXIS, 0, v.width - AXIS, v.height);
  const full = fullOf(curve.kind);
  if (input.range) {
    c.fillStyle = colour.hatchGround;
    const { lowest, highest } = input.range;
    if (highest < full) c.fillRect(AXIS, 0, v.width - AXIS, yOf(highest));
    if (lowest > 0) c.fillRect(AXIS, yOf(lowest), v.width - AXIS, v.height - yOf(lowest));
  }
  // One shape of all of them: where they lie over each other the wash stays as thin.
  c.fillStyle = colour.selectWash;
  c.beginPath();
  for (const { fromTick, toTick } of input.spans) {
    const [x, to] = [Math.max(AXIS, laneX(v, fromTick)), laneX(v, toTick)];
    if (to >= AXIS && x < v.width) c.rect(x - 1, 0, Math.max(3, to - x + 2), v.height);
  }
  c.fill();
  c.fillStyle = colour.beat;
  let numbered = -Infinity;
  c.font = `11px ${SANS}`;
  c.textAlign = 'left';
  c.textBaseline = 'top';
  for (const { tick, bar } of input.bars) {
    const x = Math.round(laneX(v, tick));
    if (x < AXIS) continue;
    c.fillStyle = colour.beat;
    c.fillRect(x, 0, 1, v.height);
    if (x - numbered < 40) continue;
    numbered = x;
    c.fillStyle = colour.ink2;
    c.fillText(String(bar), x + 4, 3);
  }
  if (input.thinned) drawBand(input, input.thinned, yOf);
  drawSteps(input, yOf);
  if (input.thinned) drawThinned(input, input.thinned, yOf);
  c.fillStyle = colour.select;
  for (const p of input.held) dot(c, laneX(v, p.tick), yOf(p.value), 4);
  if (input.stroke.length > 1) {
    c.strokeStyle = colour.select;
    c.lineWidth = 1.5;
    c.beginPath();
    input.stroke.forEach((p, i) =>
      i === 0 ? c.moveTo(laneX(v, p.tick), yOf(p.value)) : c.lineTo(laneX(v, p.tick), yOf(p.value)),
    );
    c.stroke();
  }
  if (input.sweep) {
    const { left, right, top, bottom } = input.sweep;
    c.strokeStyle = colour.select;
    c.lineWidth = 1;
    c.strokeRect(left, top, right - left, bottom - top);
  }
  // The axis lies over what reaches into it.
  c.clearRect(0, 0, AXIS, v.height);
  c.fillStyle = ink;
  c.fillRect(0, 4, 4, v.height - 8);
  c.fillStyle = colour.ink;
  c.font = `12px ${SANS}`;
  c.textBaseline = 'middle';
  c.fillText(name.length > 11 ? `${name.slice(0, 10)}…` : name, 9, v.height / 2);
  c.fillStyle = colour.ink2;
  c.font = `10px ${SANS}`;
  c.textAlign = 'right';
  c.fillText(full.toLocaleString('en-GB'), AXIS - 5, 7);
  c.fillText('0', AXIS - 5, v.height - 7);
  c.textAlign = 'left';
  c.strokeStyle = colour.line;
  c.strokeRect(AXIS + 0.5, 0.5, v.width - AXIS - 1, v.height - 1);
}

const dot = (c: CanvasRenderingContext2D, x: number, y: number, r: number) => {
  c.beginPath();
  c.arc(x, y, r, 0, Math.PI * 2);
  c.fill();
};

/** How far values may stand from the curve, above and below it: a column a pixel. */
function drawBand(input: LaneInput, { within }: Thinned, yOf: (value: number) => number) {
  const { context: c, view: v, curve, ink } = input;
  const { tick, value } = curve;
  const full = fullOf(curve.kind);
  c.fillStyle = ink;
  c.globalAlpha = 0.16;
  let i = firstAt(curve, v.fromTick);
  let held = i > 0 ? value[i - 1]! : null;
  for (let x = AXIS; x < v.width; x++) {
    let [low, high] = [held ?? Infinity, held ?? -Infinity];
    for (const until = laneTick(v, x + 1); i < tick.length && tick[i]! < until; i++) {
      held = value[i]!;
      [low, high] = [Math.min(low, held), Math.max(high, held)];
    }
    if (held === null) continue;
    const top = yOf(Math.min(full, high + within));
    c.fillRect(x, top, 1, yOf(Math.max(0, low - within)) - top);
  }
  c.globalAlpha = 1;
}

/** What would stay, as steps over the curve. */
function drawThinned(input: LaneInput, { tick, value }: Thinned, yOf: (value: number) => number) {
  const { context: c, view: v, light } = input;
  const until = laneTick(v, v.width);
  const from = Math.max(0, firstAt({ tick }, v.fromTick + 1) - 1);
  c.strokeStyle = SHEET_COLOURS[light].flag;
  c.lineWidth = 1.5;
  c.beginPath();
  let column = -Infinity;
  for (let i = from; i < tick.length && tick[i]! <= until; i++) {
    const x = Math.max(AXIS, laneX(v, tick[i]!));
    const end = Math.min(v.width, laneX(v, tick[i + 1] ?? until));
    // Of several on one pixel the last is seen.
    if (end - column < 1) continue;
    column = end;
    const y = yOf(value[i]!);
    if (i === from) c.moveTo(x, y);
    else c.lineTo(x, y);
    c.lineTo(end, y);
  }
  c.stroke();
}

/** Held values as steps; points as dots where there is room for them. */
function drawSteps(input: LaneInput, yOf: (value: number) => number) {
  const { context: c, view: v, curve, ink, chosen, light } = input;
  const { tick, value } = curve;
  const until = laneTick(v, v.width);
  let i = firstAt(curve, v.fromTick);
  let held = i > 0 ? value[i - 1]! : null;
  let x = AXIS;
  c.fillStyle = ink;
  const dots: [x: number, y: number, chosen: boolean][] = [];
  let last = -Infinity;
  while (i < tick.length && tick[i]! <= until) {
    const at = laneX(v, tick[i]!);
    if (held !== null && at > x) c.fillRect(x, yOf(held) - 0.75, at - x, 1.5);
    // All that falls on one pixel is one line from the lowest to the highest of it.
    let [low, high] = [value[i]!, value[i]!];
    let n = 0;
    const before = held;
    for (; i < tick.length && laneX(v, tick[i]!) < Math.floor(at) + 1; i++, n++) {
      low = Math.min(low, value[i]!);
      high = Math.max(high, value[i]!);
      held = value[i]!;
      if (chosen.has(i)) dots.push([at, yOf(held), true]);
    }
    if (before !== null) [low, high] = [Math.min(low, before), Math.max(high, before)];
    c.fillRect(at - 0.5, yOf(high) - 0.75, 1, yOf(low) - yOf(high) + 1.5);
    if (n === 1 && at - last > 7) dots.push([at, yOf(held!), false]);
    last = at;
    x = at;
  }
  if (held !== null && x < v.width) c.fillRect(x, yOf(held) - 0.75, v.width - x, 1.5);
  for (const [dx, dy, isChosen] of dots) {
    c.fillStyle = isChosen ? SHEET_COLOURS[light].select : ink;
    dot(c, dx, dy, isChosen ? 4 : 2.5);
  }
}
