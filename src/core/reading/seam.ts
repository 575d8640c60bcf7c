import type { EventColumns } from '../score/score';

/** What a part sounds like where nothing was ever set: level 100, centre, full, no bend. */
const NEVER_SET: Readonly<Record<number, number>> = {
  0xb007: 100,
  0xb00a: 64,
  0xb00b: 127,
  0xb001: 0,
  0xb040: 0,
  0xb042: 0,
  0xe000: 64 * 128,
  0xc000: 0,
};

/** Level, program, bend and the like in force just before a tick; by kind and controller. */
export function stateAt(events: EventColumns, tick: number): Map<number, number> {
  const state = new Map<number, number>();
  for (let i = 0; i < events.count && events.tick[i]! < tick; i++) {
    const kind = events.kind[i]!;
    if (kind === 0xb0) {
      const slot = 0xb000 + events.data1[i]!;
      if (slot in NEVER_SET) state.set(slot, events.data2[i]!);
    } else if (kind === 0xc0) state.set(0xc000, events.data1[i]!);
    else if (kind === 0xe0) state.set(0xe000, events.data2[i]! * 128 + events.data1[i]!);
  }
  return state;
}

/** What differs between the end of a pass and the beginning of the next, by kind and controller. */
export function seamOf(events: EventColumns, fromTick: number, endTick: number) {
  // What is set at the very place where the loop begins is set again in every pass.
  const begins = stateAt(events, fromTick + 1);
  const ends = stateAt(events, endTick);
  const again = new Set<number>();
  for (let i = 0; i < events.count; i++) {
    if (events.tick[i] !== fromTick) continue;
    const kind = events.kind[i]!;
    again.add(kind === 0xb0 ? 0xb000 + events.data1[i]! : kind * 256);
  }
  const differs: { slot: number; first: number; later: number }[] = [];
  for (const [slot, later] of ends) {
    const first = begins.get(slot) ?? NEVER_SET[slot]!;
    if (first !== later && !again.has(slot)) differs.push({ slot, first, later });
  }
  return differs;
}
