import {
  BANK,
  BEND,
  CONTROL,
  curvesIn,
  delivered,
  presetsIn,
  type Preset,
} from '../reading/curves';
import { deliveredEnd } from '../reading/ends';
import { mapsOf } from '../score/inventory';
import type { Piece } from '../score/piece';
import { count } from '../target/words';
import type { Hearing } from '../target/hearing';
import { KEPT_WITHIN_MS } from './by-id';

/** How far one curve is from what it was. */
export interface CurveDifference {
  readonly channel: number;
  /** A controller by its number; the bend, or what program and bank choose. */
  readonly of: number | 'bend' | 'presets';
  /** The largest difference of the values in force, and the mean of it over the time of the piece. */
  readonly largest: number;
  readonly mean: number;
  /** Of presets: those that are chosen at another time, are others, or are gone. */
  readonly changed: number;
}

/** Values in force, each from its time on. */
interface Held {
  readonly us: number[];
  readonly value: number[];
}

/** Switches as presets set them by themselves, by channel and controller. */
function setByPresets(presets: readonly Preset[], { switches, switchedOn }: Hearing) {
  const out = new Map<string, { tick: number; value: number }[]>();
  for (const { channel, tick, bank, program } of presets) {
    const on = switchedOn(bank, program);
    for (const number of switches) {
      const slot = `${channel} ${number}`;
      const all = out.get(slot) ?? [];
      out.set(slot, all);
      all.push({ tick, value: on.includes(number) ? 127 : 0 });
    }
  }
  return out;
}

interface Courses {
  readonly all: Map<string, Held>;
  /** Of switches that presets set: what was pressed and changed something. */
  readonly pressed: ReadonlyMap<string, Held>;
  readonly set: ReadonlyMap<string, unknown>;
}

/** What a device hears of a piece beside notes: the course of each curve by the clock. */
function coursesOf(piece: Piece, hearing: Hearing): Courses {
  const { clock } = mapsOf(piece.score);
  const all = new Map<string, Held>();
  const pressed = new Map<string, Held>();
  const heldIn = (of: Map<string, Held>, slot: string): Held => {
    const held = of.get(slot) ?? { us: [], value: [] };
    of.set(slot, held);
    return held;
  };
  const put = (slot: string, tick: number, value: number) => {
    const held = heldIn(all, slot);
    const us = Math.round(clock.msAt(tick) * 1000);
    // Of several at one time the last holds.
    if (held.us.at(-1) === us) held.value[held.value.length - 1] = value;
    else if (held.value.at(-1) !== value || slot.endsWith('presets')) {
      held.us.push(us);
      held.value.push(value);
    }
  };
  const parts = delivered(piece);
  const presets = hearing.programs ? presetsIn(parts) : [];
  for (const p of presets) put(`${p.channel} presets`, p.tick, p.bank * 128 + p.program);
  const set = setByPresets(presets, hearing);
  for (const curve of curvesIn(parts)) {
    const { kind, number, channel } = curve;
    if (kind === CONTROL ? number === BANK || !hearing.controller(number) : kind !== BEND) continue;
    if (kind === BEND && !hearing.bends) continue;
    const slot = `${channel} ${kind === BEND ? 'bend' : number}`;
    const by = set.get(slot);
    let next = 0;
    for (let i = 0; i < curve.count; i++) {
      const [tick, value] = [curve.tick[i]!, curve.value[i]!];
      // At one tick the preset comes first, and what is pressed after it holds.
      for (; by && next < by.length && by[next]!.tick <= tick; next++)
        put(slot, by[next]!.tick, by[next]!.value);
      if (by && all.get(slot)?.value.at(-1) !== value) {
        const own = heldIn(pressed, slot);
        own.us.push(Math.round(clock.msAt(tick) * 1000));
        own.value.push(value);
      }
      put(slot, tick, value);
    }
    for (const { tick, value } of by?.slice(next) ?? []) put(slot, tick, value);
  }
  for (const [slot, by] of set)
    if (!all.has(slot)) for (const { tick, value } of by) put(slot, tick, value);
  return { all, pressed, set };
}

/**
 * Every curve that differs between two states of a piece. What lasts no longer than a note may be
 * moved by is no difference of a value.
 */
export function compareCurves(
  before: Piece,
  after: Piece,
  hearing: Hearing,
  shiftMs: number | null,
): CurveDifference[] {
  const [first, then] = [coursesOf(before, hearing), coursesOf(after, hearing)];
  const [was, is] = [first.all, then.all];
  const endUs = (p: Piece) => mapsOf(p.score).clock.msAt(deliveredEnd(p)) * 1000;
  const shiftUs =
    shiftMs === null ? commonShift(was, is, endUs(after) - endUs(before)) : shiftMs * 1000;
  const out: CurveDifference[] = [];
  for (const slot of new Set([...was.keys(), ...is.keys()])) {
    const [channel, of] = slot.split(' ') as [string, string];
    const [a, b] = [was.get(slot), is.get(slot)];
    const at = { channel: Number(channel) };
    if (of === 'presets') {
      const changed = presetsChanged(a, b, shiftUs);
      if (changed > 0) out.push({ ...at, of, largest: 0, mean: 0, changed });
      continue;
    }
    // What presets do by themselves is told with them.
    const isSet = first.set.has(slot) || then.set.has(slot);
    if (isSet && samePressed(first.pressed.get(slot), then.pressed.get(slot), shiftUs)) continue;
    const { largest, mean } = heldApart(a, b, shiftUs);
    if (largest > 0)
      out.push({ ...at, of: of === 'bend' ? of : Number(of), largest, mean, changed: 0 });
  }
  return out;
}

/** What all courses are shifted by, where nothing else says: that of their first point behind the start. */
function commonShift(was: Map<string, Held>, is: Map<string, Held>, endBy: number): number {
  const first = (of: Map<string, Held>) =>
    [...of.values()].reduce((least, { us }) => {
      const at = us.find((t) => t > 0) ?? Infinity;
      return Math.min(least, at);
    }, Infinity);
  const by = first(is) - first(was);
  // A lead that is mended is no shift of all: the end would have moved as well.
  return Number.isFinite(by) &&
    Math.abs(by - endBy) <= KEPT_WITHIN_MS * 1000 &&
    [...was].every(([slot, a]) => shiftedBy(a, is.get(slot), by))
    ? by
    : 0;
}

const shiftedBy = (a: Held, b: Held | undefined, by: number) =>
  b !== undefined &&
  a.us.length === b.us.length &&
  a.us.every((t, i) => t === 0 || Math.abs(b.us[i]! - t - by) <= KEPT_WITHIN_MS * 1000);

const NONE: Held = { us: [], value: [] };
const samePressed = (a = NONE, b = NONE, by: number): boolean =>
  shiftedBy(a, b, by) && a.value.every((v, i) => v === b.value[i]);

function presetsChanged(a: Held | undefined, b: Held | undefined, shiftUs: number): number {
  const left = new Map<number, number[]>();
  b?.us.forEach((us, i) => {
    const value = b.value[i]!;
    left.set(value, [...(left.get(value) ?? []), us]);
  });
  let kept = 0;
  a?.us.forEach((us, i) => {
    const there = left.get(a.value[i]!) ?? [];
    const n = there.findIndex(
      (t) => Math.abs(t - us - (us === 0 ? 0 : shiftUs)) <= KEPT_WITHIN_MS * 1000,
    );
    if (n < 0) return;
    there.splice(n, 1);
    kept++;
  });
  return Math.max(a?.us.length ?? 0, b?.us.length ?? 0) - kept;
}

function heldApart(a: Held | undefined, b: Held | undefined, shiftUs: number) {
  const [x, y] = [a ?? NONE, b ?? NONE];
  const times = (h: Held, by: number) => h.us.map((t) => (t === 0 ? 0 : t + by));
  const [ta, tb] = [times(x, shiftUs), times(y, 0)];
  let [i, j] = [-1, -1];
  let [largest, area] = [0, 0];
  let at = 0;
  const end = Math.max(ta.at(-1) ?? 0, tb.at(-1) ?? 0) + 1_000_000;
  const start = Math.min(ta[0] ?? end, tb[0] ?? end);
  let since = start;
  while (at < end) {
    const next = Math.min(ta[i + 1] ?? end, tb[j + 1] ?? end);
    const apart = i < 0 && j < 0 ? 0 : Math.abs((x.value[i] ?? 0) - (y.value[j] ?? 0));
    area += apart * (next - at);
    // As long as both stand apart, however often either moves meanwhile.
    if (apart === 0) since = next;
    else if (next - since > KEPT_WITHIN_MS * 1000) largest = Math.max(largest, apart);
    at = next;
    while (i + 1 < ta.length && ta[i + 1]! <= at) i++;
    while (j + 1 < tb.length && tb[j + 1]! <= at) j++;
  }
  return { largest, mean: end > start ? area / (end - start) : 0 };
}

const decimal = (n: number) => (n < 0.05 ? 'under 0.1' : String(Math.round(n * 10) / 10));

/** In words: “controller 11 by 2 at most, 0.4 on average”. */
export function sayCurveDifference({ of, largest, mean, changed }: CurveDifference): string {
  if (of === 'presets') return count(changed, 'preset');
  const what = of === 'bend' ? 'the bend' : `controller ${of}`;
  return `${what} by ${largest} at most, ${decimal(mean)} on average`;
}
