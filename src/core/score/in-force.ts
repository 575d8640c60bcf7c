import { newEvents } from './columns';
import type { EventColumns } from './score';

/** An event without its time: kind, first and second data byte. */
export type EventRow = readonly [kind: number, data1: number, data2: number];

/**
 * What is in force on a channel, as the events that bring it about in their order, by slot:
 * `program` with the bank that stood when it was chosen, a controller, a registered parameter with
 * its data, bend, pressure. MIDI 1.0, "Bank Select" and "Registered Parameter Numbers".
 */
export type InForce = ReadonlyMap<string, readonly EventRow[]>;

const BANK = new Set([0, 32]);
const SELECT = new Set([98, 99, 100, 101]);
const DATA = new Set([6, 38, 96, 97]);

/** State behind all events before `tick`. */
export function inForceAt(events: EventColumns, tick: number): InForce {
  const slots = new Map<string, readonly EventRow[]>();
  const put = (slot: string, rows: readonly EventRow[]) => {
    slots.delete(slot);
    slots.set(slot, rows);
  };
  const banks = new Map<number, EventRow>();
  const select = new Map<number, EventRow>();
  for (let i = 0; i < events.count && events.tick[i]! < tick; i++) {
    const row: EventRow = [events.kind[i]!, events.data1[i]!, events.data2[i]!];
    const [kind, number] = row;
    if (kind === 0xc0) put('program', [...banks.values(), row]);
    else if (kind === 0xd0) put('pressure', [row]);
    else if (kind === 0xe0) put('bend', [row]);
    if (kind !== 0xb0) continue;
    if (BANK.has(number)) banks.set(number, row);
    else if (SELECT.has(number)) {
      // A registered and a non-registered number put each other out.
      for (const other of number >= 100 ? [98, 99] : [100, 101]) select.delete(other);
      select.set(number, row);
    } else if (DATA.has(number)) {
      const slot = `parameter ${[...select.values()].map((r) => r.join('.')).join(' ')}`;
      const before = slots.get(slot) ?? [...select.values()];
      // An entry takes the place of the one before; a step up or down is added to it.
      put(slot, [...before.filter((r) => number > 38 || r[1] !== number), row]);
    } else if (number === 121) resetControllers(slots);
    else if (number < 120) put(`controller ${number}`, [row]);
  }
  // A bank that no program has taken up yet, and the parameter that data would go to now.
  const taken = slots.get('program')?.filter(([k]) => k === 0xb0) ?? [];
  const waiting = [...banks.values()].filter(
    (b) => !taken.some((t) => t[1] === b[1] && t[2] === b[2]),
  );
  if (waiting.length > 0) put('bank', waiting);
  if (select.size > 0) put('select', [...select.values()]);
  return slots;
}

/** RP-015: what "Reset All Controllers" puts back; bank, program, level and pan stay. */
function resetControllers(slots: Map<string, readonly EventRow[]>) {
  for (const slot of ['bend', 'pressure', 'select']) slots.delete(slot);
  for (const number of [1, 2, 4, 11, 64, 65, 66, 67]) slots.delete(`controller ${number}`);
}

const sameRows = (a: readonly EventRow[] | undefined, b: readonly EventRow[] | undefined) =>
  a !== undefined && b !== undefined && a.length === b.length
    ? a.every((row, i) => row.every((byte, k) => byte === b[i]![k]))
    : a === b;

/** What a slot begins with where nothing was ever said; null where that is not known. */
const NEVER_SAID: Readonly<Record<string, EventRow>> = {
  program: [0xc0, 0, 0],
  bend: [0xe0, 0, 64],
  pressure: [0xd0, 0, 0],
  'controller 1': [0xb0, 1, 0],
  'controller 7': [0xb0, 7, 100],
  'controller 10': [0xb0, 10, 64],
  'controller 11': [0xb0, 11, 127],
  'controller 64': [0xb0, 64, 0],
  'controller 66': [0xb0, 66, 0],
  'controller 67': [0xb0, 67, 0],
};

/** The events that lead from one state to another, in order. */
export function rowsBetween(from: InForce, to: InForce): EventRow[] {
  const out: EventRow[] = [];
  for (const slot of from.keys()) {
    const known = NEVER_SAID[slot];
    if (!to.has(slot) && known && !sameRows(from.get(slot), [known])) out.push(known);
  }
  let selects = false;
  for (const [slot, rows] of to) {
    if (slot === 'select') selects ||= !sameRows(from.get(slot), rows);
    else if (!sameRows(from.get(slot), rows)) {
      out.push(...rows);
      selects ||= slot.startsWith('parameter');
    }
  }
  if (selects) out.push(...(to.get('select') ?? []));
  return out;
}

/** Rows as events at one tick, wherever the writer sees fit in it. */
export function eventsOf(rows: readonly EventRow[], tick: number): EventColumns {
  const events = newEvents(rows.length);
  rows.forEach(([kind, data1, data2], i) => {
    events.tick[i] = tick;
    events.kind[i] = kind;
    events.data1[i] = data1;
    events.data2[i] = data2;
  });
  return events;
}
