import * as z from 'zod';
import { joinEvents, newEvents, pickEvents } from '../score/columns';
import { type Maps } from '../score/inventory';
import type { Piece } from '../score/piece';
import { firstTickOf } from '../score/score';
import { count, plain } from '../target/words';
import { changeParts, defineStep, done } from './define-step';
import { seeded } from '../sound/seeded';

export const setProgram = defineStep({
  id: 'set-program',
  reach: 'parts',
  title: 'Set program',
  summary: 'One program at the start of a part, in the place of all others.',
  params: z.strictObject({
    program: z.int().min(0).max(127).describe('Program as the file holds it, 0 to 127'),
    keepBank: z.boolean().optional().describe('Leave bank select as it is'),
  }),
  describe: (p) => `program ${p.program + 1} (${p.program} in the file)`,
  apply(input) {
    let events = 0;
    const piece = changeParts(input, (part) => {
      const { kind, data1, data2 } = part.events;
      const at = kind.indexOf(0xc0);
      const kept: number[] = [];
      // A program takes up the bank that stands before it: both go to the start together.
      const banks = new Map<number, number>();
      let bank = 0;
      let programs = 0;
      for (let i = 0; i < part.events.count; i++) {
        const isBank = kind[i] === 0xb0 && (data1[i] === 0 || data1[i] === 32);
        if (isBank && !input.params.keepBank) bank++;
        else if (isBank && i < at) banks.set(data1[i]!, data2[i]!);
        else if (kind[i] === 0xc0) programs++;
        else kept.push(i);
      }
      const same =
        programs === 1 &&
        bank === 0 &&
        part.events.tick[at] === 0 &&
        part.events.data1[at] === input.params.program;
      if (same) return part;
      events += Math.max(1, programs + bank);
      return {
        ...part,
        events: joinEvents([
          ...[...banks].map(([number, value]) => one(0xb0, number, value)),
          one(0xc0, input.params.program, 0),
          pickEvents(part.events, kept),
        ]),
      };
    });
    return done(piece, { events, eventWords: 'program events set' });
  },
});

const one = (kind: number, data1: number, data2: number, tick = 0) => {
  const events = newEvents(1);
  events.tick[0] = tick;
  events.kind[0] = kind;
  events.data1[0] = data1;
  events.data2[0] = data2;
  return events;
};

export const setController = defineStep({
  id: 'set-controller',
  reach: 'parts',
  title: 'Set a controller at the start',
  summary: 'One value of a controller at the start of a part, in the place of all others.',
  params: z.strictObject({
    controller: z.int().min(0).max(127).describe('Controller number'),
    value: z
      .int()
      .min(0)
      .max(127)
      .optional()
      .describe('The first value that the part has, where nothing is said'),
  }),
  describe: (p) =>
    `controller ${p.controller}${p.value === undefined ? '' : ` at ${p.value}`}, once at the start`,
  apply(input) {
    const { controller, value } = input.params;
    let events = 0;
    let lost = 0;
    const piece = changeParts(input, (part) => {
      const kept: number[] = [];
      let first: number | null = null;
      for (let i = 0; i < part.events.count; i++) {
        if (part.events.kind[i] !== 0xb0 || part.events.data1[i] !== controller) kept.push(i);
        else first ??= part.events.data2[i]!;
      }
      const there = part.events.count - kept.length;
      const to = value ?? first ?? DEFAULTS[controller] ?? 0;
      events += Math.max(1, there);
      lost += Math.max(0, there - 1);
      return {
        ...part,
        events: joinEvents([one(0xb0, controller, to), pickEvents(part.events, kept)]),
      };
    });
    return done(piece, { events, eventWords: 'controller events set' }, [
      { what: `later events of controller ${controller}`, count: lost },
    ]);
  },
});

/** MIDI 1.0, "Reset all controllers" and RP-015: what is in force where nothing was set. */
const DEFAULTS: Readonly<Record<number, number>> = { 7: 100, 8: 64, 10: 64, 11: 127 };

export const gatherSetUp = defineStep({
  id: 'gather-set-up',
  reach: 'parts',
  title: 'Set-up at the start',
  summary: 'Moves controllers, programs and bends that stand before a place to the very start.',
  params: z.strictObject({
    beforeBars: z.int().min(1).max(1000).optional().describe('What stands before so many bars'),
    beforeMs: z
      .number()
      .min(0)
      .max(3_600_000)
      .optional()
      .describe('What stands before so many milliseconds'),
    beforeTick: z.int().min(1).optional().describe('Ticks of the piece as it is there'),
  }),
  describe: (p) => {
    const said = [
      p.beforeBars === undefined ? '' : count(p.beforeBars, 'bar'),
      p.beforeMs === undefined ? '' : `${plain(p.beforeMs)} ms`,
      p.beforeTick === undefined ? '' : `tick ${p.beforeTick}`,
    ].filter(Boolean);
    return `set-up before ${said.join(' or ') || 'the first note'} to the start`;
  },
  apply(input) {
    let moved = 0;
    const before = placeBefore(input.params, input.piece, input.maps);
    const piece = changeParts(input, (part) => {
      const { events } = part;
      let early = 0;
      const tick = events.tick.map((t) => (t > 0 && t < before ? (early++, 0) : t));
      if (early === 0) return part;
      moved += early;
      return { ...part, events: { ...events, tick, order: new Uint32Array(events.count) } };
    });
    return done(piece, { events: moved, eventWords: 'events moved to the start' });
  },
});

/** The later of the places that were said; the first note where none was. */
function placeBefore(
  { beforeBars, beforeMs, beforeTick }: z.infer<typeof gatherSetUp.params>,
  { score }: Piece,
  { bars, clock }: Maps,
): number {
  const places = [
    ...(beforeBars === undefined ? [] : [bars.barStart(beforeBars)]),
    ...(beforeMs === undefined ? [] : [clock.tickAt(beforeMs)]),
    ...(beforeTick === undefined ? [] : [beforeTick]),
  ];
  return places.length > 0 ? places.reduce((a, b) => Math.max(a, b)) : (firstTickOf(score) ?? 0);
}

export const velocity = defineStep({
  id: 'velocity',
  reach: 'notes',
  title: 'Velocity',
  summary: 'Scales, moves, bounds or varies how hard notes are struck, or sets them all alike.',
  params: z.strictObject({
    scalePercent: z.number().min(1).max(1000).optional().describe('Percent'),
    offset: z.int().min(-126).max(126).optional().describe('Added to each'),
    lowest: z.int().min(1).max(127).optional().describe('Not below'),
    highest: z.int().min(1).max(127).optional().describe('Not above'),
    all: z.int().min(1).max(127).optional().describe('Every note the same'),
    vary: z.int().min(1).max(64).optional().describe('Up or down by as much as this'),
    seed: z.int().min(0).max(0x7fffffff).optional().describe('For the variation'),
  }),
  describe: (p) =>
    [
      p.all === undefined ? '' : `velocity ${p.all} for all`,
      p.scalePercent === undefined ? '' : `velocity by ${p.scalePercent} percent`,
      p.offset === undefined ? '' : `velocity ${p.offset < 0 ? '' : '+'}${p.offset}`,
      p.vary === undefined ? '' : `vary velocity by ${p.vary} (seed ${p.seed ?? 1})`,
      p.lowest === undefined && p.highest === undefined
        ? ''
        : `velocity within ${p.lowest ?? 1}–${p.highest ?? 127}`,
    ]
      .filter(Boolean)
      .join(', ') || 'velocity as it is',
  apply(input) {
    const { params, select } = input;
    let changed = 0;
    const piece = changeParts(input, (part) => {
      const { notes } = part;
      const next = Uint8Array.from(notes.velocity);
      const pick = seeded(params.seed ?? 1);
      let touched = 0;
      for (let i = 0; i < notes.count; i++) {
        if (!select.note(part, i)) continue;
        let to = params.all ?? next[i]!;
        if (params.scalePercent !== undefined) to = Math.round((to * params.scalePercent) / 100);
        to += params.offset ?? 0;
        if (params.vary !== undefined) to += pick(2 * params.vary + 1) - params.vary;
        to = Math.max(params.lowest ?? 1, Math.min(params.highest ?? 127, to));
        to = Math.max(1, Math.min(127, to));
        if (to === next[i]) continue;
        next[i] = to;
        touched++;
      }
      changed += touched;
      return touched === 0 ? part : { ...part, notes: { ...notes, velocity: next } };
    });
    return done(piece, { changed, verb: 'with another velocity' });
  },
});
