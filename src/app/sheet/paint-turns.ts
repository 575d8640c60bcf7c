import type { CurveView, PartView, TurnsView } from '../../core/wire/view';
import { SANS } from './letters';
import type { PaintInput } from './paint-input';
import { SHEET_COLOURS } from './inks';
import { xOf, type Band } from './layout';

const FLAG = 15;
const SWITCH = 9;
/** A strip that is lower shows its level by how dark it is. */
const LEGIBLE = 9;
/** More curves than this have a strip each. */
const OVER_EACH_OTHER = 3;

/** First of sorted ticks at or behind one. */
export function firstFrom(ticks: ArrayLike<number>, tick: number): number {
  let [low, high] = [0, ticks.length];
  while (low < high) {
    const mid = (low + high) >> 1;
    if (ticks[mid]! < tick) low = mid + 1;
    else high = mid;
  }
  return low;
}

/** Presets as flags, switches as bars while they are on, levels as lines: of one part in its band. */
export function paintTurns(input: PaintInput, band: Band, part: PartView, ink: string) {
  const { turns } = part;
  const { turned } = input;
  if (!turns || band.faint || (part.columns.count > 0 && !turned.listens)) return;
  const { context: c, layout, light } = input;
  const colour = SHEET_COLOURS[light];
  const top = layout.headHeight + band.top;
  const hasFlags = turns.presets.tick.length > 0;
  const switches = turns.curves.filter((v) => turned.isSwitch(v.kind, v.number));
  const levels = turns.curves.filter((v) => !turned.isSwitch(v.kind, v.number));
  const low = top + 3;
  // Marks stand at the head of a band: flags lie at its foot, where nothing covers their names.
  const foot = top + band.height - (hasFlags ? FLAG + 4 : 4);
  const shelf = Math.min(switches.length * SWITCH, band.height * 0.4);
  const room = Math.max(4, foot - shelf - low);
  c.save();
  if (part.columns.count > 0) c.globalAlpha = 0.55;
  const each = levels.length > OVER_EACH_OTHER ? room / levels.length : room;
  levels.forEach((curve, i) => {
    const at = levels.length > OVER_EACH_OTHER ? low + i * each : low;
    c.fillStyle = turned.hears(curve.kind, curve.number) ? ink : colour.faint;
    if (each < LEGIBLE) paintShade(input, curve, at, each);
    else paintLevel(input, curve, at, each);
  });
  switches.forEach((curve, i) => {
    const y = foot - shelf + (i * shelf) / switches.length;
    c.fillStyle = turned.hears(curve.kind, curve.number) ? ink : colour.faint;
    paintSwitch(input, curve, y, Math.max(2, shelf / switches.length - 3));
  });
  c.restore();
  if (hasFlags) paintPresets(input, turns, foot + 1, part.columns.count === 0);
}

/** One rectangle for each pixel at the most, however many points fall on it. */
function paintLevel(
  { context: c, layout, row }: PaintInput,
  curve: CurveView,
  top: number,
  h: number,
) {
  const { tick, value, kind } = curve;
  const full = kind === 0xe0 ? 16_383 : 127;
  const yOf = (v: number) => top + (h - 2) * (1 - v / full);
  let i = firstFrom(tick, row.fromTick);
  let held = i > 0 ? value[i - 1]! : null;
  let x = layout.left;
  const right = xOf(layout, row, row.toTick);
  const thick = h < 12 ? 1 : 1.6;
  while (i < tick.length && tick[i]! < row.toTick) {
    const at = xOf(layout, row, tick[i]!);
    if (held !== null && at > x) c.fillRect(x, yOf(held), at - x, thick);
    // All that stands on one pixel: from the lowest to the highest of it.
    const until = Math.floor(at) + 1;
    let [least, most] = [value[i]!, value[i]!];
    let last = value[i]!;
    const from = held;
    for (; i < tick.length && tick[i]! < row.toTick && xOf(layout, row, tick[i]!) < until; i++) {
      last = value[i]!;
      if (last < least) least = last;
      if (last > most) most = last;
    }
    if (from !== null) [least, most] = [Math.min(least, from), Math.max(most, from)];
    c.fillRect(at, yOf(most), 1, Math.max(thick, yOf(least) - yOf(most) + thick));
    held = last;
    x = at;
  }
  if (held !== null && x < right) c.fillRect(x, yOf(held), right - x, thick);
}

/** So many shades can be told apart; what has the same one is one rectangle. */
const SHADES = 20;

/** Too low for a line: darker where the level is higher. On whole pixels, which are drawn fastest. */
function paintShade(
  { context: c, layout, row }: PaintInput,
  curve: CurveView,
  top: number,
  h: number,
) {
  const { tick, value, kind } = curve;
  const full = kind === 0xe0 ? 16_383 : 127;
  const was = c.globalAlpha;
  const y = Math.round(top);
  const height = Math.max(1, Math.round(top + h) - y - (h > 2 ? 1 : 0));
  const shadeOf = (v: number) => Math.ceil((v * SHADES) / full);
  let i = firstFrom(tick, row.fromTick);
  let shade = i > 0 ? shadeOf(value[i - 1]!) : 0;
  let x = layout.left;
  const right = xOf(layout, row, row.toTick);
  const fill = (to: number) => {
    if (shade === 0 || to <= x) return;
    c.globalAlpha = was * (0.12 + (0.88 * shade) / SHADES);
    c.fillRect(x, y, to - x, height);
  };
  while (i < tick.length && tick[i]! < row.toTick) {
    const at = Math.max(x, Math.floor(xOf(layout, row, tick[i]!)));
    // Of all that stands on one pixel the last holds.
    const behind = row.fromTick + (at + 1 - layout.left) / layout.pxPerTick;
    i = Math.max(i + 1, firstFrom(tick, Math.min(row.toTick, behind)));
    const next = shadeOf(value[i - 1]!);
    if (next === shade) continue;
    fill(at);
    x = at;
    shade = next;
  }
  fill(right);
  c.globalAlpha = was;
}

function paintSwitch(
  { context: c, layout, row }: PaintInput,
  curve: CurveView,
  y: number,
  h: number,
) {
  const { tick, value } = curve;
  let i = firstFrom(tick, row.fromTick);
  let on = i > 0 && value[i - 1]! >= 64;
  let x = layout.left;
  const right = xOf(layout, row, row.toTick);
  for (; i < tick.length && tick[i]! < row.toTick; i++) {
    const at = xOf(layout, row, tick[i]!);
    if (on) c.fillRect(x, y, Math.max(1, at - x), h);
    c.fillRect(at - 0.5, y - 1, 1.5, h + 2);
    on = value[i]! >= 64;
    x = at;
  }
  if (on) c.fillRect(x, y, Math.max(0, right - x), h);
}

function paintPresets(
  input: PaintInput,
  { presets }: TurnsView,
  top: number,
  /** No note stands where the name of what is in force is said. */
  free: boolean,
) {
  const { context: c, layout, row, light, turned } = input;
  const colour = SHEET_COLOURS[light];
  c.font = `11px ${SANS}`;
  c.textBaseline = 'middle';
  const { tick, bank, program } = presets;
  const first = firstFrom(tick, row.fromTick);
  // What is in force at the head of a row is said there, without a flag: it was set before.
  if (free && first > 0) {
    const until = Math.min(tick[first] ?? Infinity, row.toTick);
    const name = turned.presetName(bank[first - 1]!, program[first - 1]!);
    const says = name ?? `${bank[first - 1]}.${program[first - 1]}`;
    c.fillStyle = colour.ink2;
    c.fillText(
      fitted(c, says, xOf(layout, row, until) - layout.left - 12),
      layout.left + 6,
      top + 1 + FLAG / 2 + 0.5,
    );
  }
  for (let i = first; i < tick.length && tick[i]! < row.toTick; i++) {
    const x = xOf(layout, row, tick[i]!);
    const next = tick[i + 1] ?? Infinity;
    const room = xOf(layout, row, Math.min(next, row.toTick)) - x - 12;
    const name = turned.presetName(bank[i]!, program[i]!);
    const says = name ?? `${bank[i]}.${program[i]}`;
    const text = fitted(c, says, room);
    const right = xOf(layout, row, row.toTick);
    const w = Math.min(right - x, Math.max(7, c.measureText(text).width + 10));
    c.fillStyle = name === null ? colour.hatchGround : colour.pill;
    c.fillRect(x, top + 1, w, FLAG);
    c.strokeStyle = name === null ? colour.hatch : colour.ink2;
    c.lineWidth = 1;
    c.strokeRect(Math.round(x) + 0.5, top + 1.5, Math.round(w) - 1, FLAG - 1);
    c.fillStyle = colour.ink;
    c.fillRect(x, top - 3, 2, FLAG + 4);
    if (text !== '') c.fillText(text, x + 6, top + 1 + FLAG / 2 + 0.5);
  }
}

function fitted(c: CanvasRenderingContext2D, text: string, room: number): string {
  if (room < 12) return '';
  if (c.measureText(text).width <= room) return text;
  let n = text.length - 1;
  while (n > 1 && c.measureText(`${text.slice(0, n)}…`).width > room) n--;
  return n > 1 ? `${text.slice(0, n)}…` : '';
}
