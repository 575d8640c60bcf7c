import { sortByKey } from '../score/columns';
import type { Piece } from '../score/piece';
import { isIn, type Part } from '../score/score';

export const CONTROL = 0xb0;
export const PROGRAM = 0xc0;
export const BEND = 0xe0;
/** Bank select, most significant byte; MIDI 1.0, "Bank Select". */
export const BANK = 0;

/**
 * What one controller, bend or pressure does on one output channel: points in the order in which
 * they are written, nothing between them. The value of a point holds until the next.
 */
export interface Curve {
  /** 1–16. */
  readonly channel: number;
  /** Status without the channel. */
  readonly kind: number;
  /** The controller; 0 for what has no number. */
  readonly number: number;
  readonly count: number;
  readonly tick: Int32Array;
  /** 0–127; of a bend 0–16,383. */
  readonly value: Uint16Array;
  /** Where each point stands: the part by its index in `parts`, and the event in it. */
  readonly part: Uint16Array;
  readonly index: Uint32Array;
  readonly parts: readonly Part[];
}

/** A program with the bank that is in force for it, and where both stand. */
export interface Preset {
  readonly channel: number;
  readonly tick: number;
  readonly bank: number;
  readonly program: number;
  readonly part: Part;
  readonly index: number;
  /** The bank select that was sent for it; null where an earlier one is in force. */
  readonly sent: { readonly part: Part; readonly index: number; readonly tick: number } | null;
}

export const valueOf = (kind: number, data1: number, data2: number): number =>
  kind === BEND ? data2 * 128 + data1 : kind === 0xd0 ? data1 : data2;

/** All events of a channel in the order in which they are written. */
interface CurveSlot {
  readonly channel: number;
  readonly parts: readonly Part[];
  readonly part: Uint16Array;
  readonly index: Uint32Array;
}

function linesOf(parts: readonly Part[]): CurveSlot[] {
  const byChannel = new Map<number, Part[]>();
  for (const part of parts) {
    if (part.events.count === 0) continue;
    const there = byChannel.get(part.channel);
    if (there) there.push(part);
    else byChannel.set(part.channel, [part]);
  }
  return [...byChannel].map(([channel, on]) => {
    const total = on.reduce((n, p) => n + p.events.count, 0);
    const ticks = new Float64Array(total);
    const part = new Uint16Array(total);
    const index = new Uint32Array(total);
    let at = 0;
    on.forEach((p, k) => {
      for (let i = 0; i < p.events.count; i++, at++) {
        ticks[at] = p.events.tick[i]!;
        part[at] = k;
        index[at] = i;
      }
    });
    if (on.length === 1) return { channel, parts: on, part, index };
    const order = sortByKey(ticks);
    return {
      channel,
      parts: on,
      part: part.map((_, i) => part[order[i]!]!),
      index: index.map((_, i) => index[order[i]!]!),
    };
  });
}

/** The curves of parts: controllers, bends and pressures; banks and programs are presets. */
export function curvesIn(parts: readonly Part[]): Curve[] {
  const out: Curve[] = [];
  for (const line of linesOf(parts)) {
    const counts = new Map<number, number>();
    const slotOf = (i: number): number | null => {
      const { events } = line.parts[line.part[i]!]!;
      const n = line.index[i]!;
      const kind = events.kind[n]!;
      if (kind === CONTROL) return kind * 128 + events.data1[n]!;
      return kind === BEND || kind === 0xd0 ? kind * 128 : null;
    };
    const total = line.index.length;
    for (let i = 0; i < total; i++) {
      const slot = slotOf(i);
      if (slot !== null) counts.set(slot, (counts.get(slot) ?? 0) + 1);
    }
    const made = new Map<number, { -readonly [K in keyof Curve]: Curve[K] }>();
    for (const [slot, count] of counts)
      made.set(slot, {
        channel: line.channel,
        kind: Math.floor(slot / 128),
        number: slot % 128,
        count: 0,
        tick: new Int32Array(count),
        value: new Uint16Array(count),
        part: new Uint16Array(count),
        index: new Uint32Array(count),
        parts: line.parts,
      });
    for (let i = 0; i < total; i++) {
      const slot = slotOf(i);
      if (slot === null) continue;
      const curve = made.get(slot)!;
      const at = curve.count++;
      const { events } = line.parts[line.part[i]!]!;
      const n = line.index[i]!;
      curve.tick[at] = events.tick[n]!;
      curve.value[at] = valueOf(curve.kind, events.data1[n]!, events.data2[n]!);
      curve.part[at] = line.part[i]!;
      curve.index[at] = n;
    }
    out.push(...[...made.values()].sort((a, b) => a.kind - b.kind || a.number - b.number));
  }
  return out.sort((a, b) => a.channel - b.channel);
}

/** The programs of parts, each with the bank that was in force when it was sent. */
export function presetsIn(parts: readonly Part[]): Preset[] {
  const out: Preset[] = [];
  for (const line of linesOf(parts)) {
    let bank = 0;
    let sent: Preset['sent'] = null;
    for (let i = 0; i < line.index.length; i++) {
      const part = line.parts[line.part[i]!]!;
      const { kind, data1, data2, tick } = part.events;
      const index = line.index[i]!;
      if (kind[index] === CONTROL && data1[index] === BANK) {
        bank = data2[index]!;
        sent = { part, index, tick: tick[index]! };
      } else if (kind[index] === PROGRAM) {
        out.push({
          channel: line.channel,
          tick: tick[index]!,
          bank,
          program: data1[index]!,
          part,
          index,
          sent,
        });
        sent = null;
      }
    }
  }
  return out;
}

export const delivered = ({ score }: Piece): readonly Part[] => score.parts.filter(isIn);

/**
 * Points that stand too close for a rate: those before which, within a second, as many were taken
 * already. What is over is not counted again, as a device that drops it does not.
 * @param us clock of each point in microseconds, rising
 * @param hair microseconds that a second may lack: clocks are told in whole ones
 */
export function overRate(us: ArrayLike<number>, perSecond: number, hair = 1): number[] {
  const out: number[] = [];
  const taken = new Float64Array(perSecond);
  let count = 0;
  for (let i = 0; i < us.length; i++) {
    const at = us[i]!;
    // The oldest of the last so many; one that is a whole second old makes room.
    if (count >= perSecond && at - taken[count % perSecond]! < 1_000_000 - hair) out.push(i);
    else taken[count++ % perSecond] = at;
  }
  return out;
}
