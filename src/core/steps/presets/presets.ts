import * as z from 'zod';
import type { Preset } from '../../reading/curves';
import { plain } from '../../target/words';
import type { Maps } from '../../score/inventory';
import { defineStep, done } from '../define-step';
import { firstAt } from '../curves/space';
import { placesFor } from '../../reading/preset-places';
import { changePresets, type Placed } from './change';

const number = z.int().min(0).max(127);
const placed = ({ tick, bank, program }: Preset): Placed => ({ tick, bank, program });
const usOf = ({ clock }: Maps) => ({
  usAt: (tick: number) => Math.round(clock.msAt(tick) * 1000),
  tickAt: (us: number) => clock.tickAt(us / 1000),
});
/** The latest tick that stands so long before another; 0 where there is no such tick. */
function before(tick: number, ms: number, maps: Maps): number {
  const { usAt, tickAt } = usOf(maps);
  const wanted = usAt(tick) - ms * 1000;
  if (wanted <= 0) return 0;
  const at = firstAt(wanted, tickAt, usAt);
  return usAt(at) > wanted ? Math.max(0, at - 1) : at;
}

export const leadPresets = defineStep({
  id: 'lead-presets',
  reach: 'stretch',
  title: 'Lead presets',
  summary:
    'Puts each preset so long before the marker or the bar line that it is for, with its bank. The first at tick 0 stays.',
  params: z.strictObject({
    leadMs: z.number().min(0).max(10_000),
    to: z.enum(['markers', 'bars']).describe('What presets are for'),
  }),
  describe: (p) =>
    `presets ${plain(p.leadMs)} ms before ${p.to === 'markers' ? 'their markers' : 'bar lines'}`,
  apply(input) {
    const { leadMs, to } = input.params;
    const placeFor = placesFor(to, input.piece.score.conductor.markers, input.maps);
    const { piece, changed } = changePresets(input, (presets) =>
      presets.map((p) =>
        p.tick === 0
          ? placed(p)
          : { ...placed(p), tick: before(placeFor(p.tick), leadMs, input.maps) },
      ),
    );
    return done(piece, { events: changed, eventWords: 'presets moved' });
  },
});

export const spacePresets = defineStep({
  id: 'space-presets',
  reach: 'stretch',
  title: 'Space presets',
  summary: 'Of presets that follow too soon the last stays: it is the one that would be heard.',
  params: z.strictObject({ apartMs: z.number().min(0).max(60_000) }),
  describe: (p) => `presets ${plain(p.apartMs)} ms apart, the last stays`,
  apply(input) {
    const { usAt } = usOf(input.maps);
    const { piece, dropped } = changePresets(input, (presets) => {
      const out: (Placed | null)[] = presets.map(placed);
      let kept = presets.length - 1;
      for (let i = presets.length - 2; i >= 0; i--) {
        const gap = usAt(presets[kept]!.tick) - usAt(presets[i]!.tick);
        // The preset that the piece begins with stays: there is none before it.
        if (gap < input.params.apartMs * 1000 && presets[i]!.tick > 0) out[i] = null;
        else if (gap < input.params.apartMs * 1000) {
          out[kept] = null;
          kept = i;
        } else kept = i;
      }
      return out;
    });
    return done(piece, { events: dropped, eventWords: 'presets taken out' }, [
      { what: 'presets that follow too soon', count: dropped },
    ]);
  },
});

export const gatherBanks = defineStep({
  id: 'gather-banks',
  reach: 'stretch',
  title: 'Banks before their programs',
  summary: 'Writes the bank of each preset right before its program, at the same tick.',
  params: z.strictObject({}),
  describe: () => 'banks right before their programs',
  apply(input) {
    let moved = 0;
    const { piece } = changePresets(input, (presets) =>
      presets.map((p) => {
        if (!p.sent || p.sent.tick === p.tick) return placed(p);
        moved++;
        return { ...placed(p), anew: true };
      }),
    );
    return done(piece, { events: moved, eventWords: 'banks moved' });
  },
});

export const firstPreset = defineStep({
  id: 'first-preset',
  reach: 'parts',
  title: 'Begin with a preset',
  summary: 'Puts a preset at tick 0, or moves the first one there.',
  params: z.strictObject({
    bank: number.optional().describe('With a program: this preset; else the first one moves'),
    program: number.optional(),
  }),
  describe: (p) =>
    p.program === undefined
      ? 'the first preset at the start'
      : `begin with bank ${p.bank ?? 0}, program ${p.program}`,
  apply(input) {
    const { bank = 0, program } = input.params;
    const result = changePresets(
      input,
      (presets) =>
        presets.map((p, i) =>
          i === 0 && program === undefined ? { ...placed(p), tick: 0 } : placed(p),
        ),
      (presets) =>
        program === undefined || presets[0]?.tick === 0 ? [] : [{ tick: 0, bank, program }],
    );
    return done(result.piece, {
      events: result.changed + result.added,
      eventWords: 'presets at the start',
    });
  },
});

export const changePreset = defineStep({
  id: 'change-preset',
  reach: 'stretch',
  title: 'Another preset instead',
  summary: 'Chooses another preset wherever one is chosen, or takes it out.',
  params: z.strictObject({
    bank: number,
    program: number,
    toBank: number.optional(),
    toProgram: number.optional().describe('Taken out where none is said'),
  }),
  describe: (p) =>
    `bank ${p.bank}, program ${p.program} ${
      p.toProgram === undefined ? 'out' : `as bank ${p.toBank ?? 0}, program ${p.toProgram}`
    }`,
  apply(input) {
    const { bank, program, toBank = 0, toProgram } = input.params;
    const result = changePresets(input, (presets) =>
      presets.map((p) => {
        if (p.bank !== bank || p.program !== program) return placed(p);
        return toProgram === undefined ? null : { tick: p.tick, bank: toBank, program: toProgram };
      }),
    );
    const { piece, changed, dropped } = result;
    return done(piece, { events: changed + dropped, eventWords: 'presets changed' }, [
      { what: 'presets', count: dropped },
    ]);
  },
});

export const dropPresetRepeats = defineStep({
  id: 'drop-preset-repeats',
  reach: 'stretch',
  title: 'Drop repeated presets',
  summary: 'Takes out presets that choose what is there already.',
  params: z.strictObject({}),
  describe: () => 'presets that are there already out',
  apply(input) {
    const { piece, dropped } = changePresets(input, (presets) => {
      let last: Preset | null = null;
      return presets.map((p) => {
        const again = last !== null && last.bank === p.bank && last.program === p.program;
        last = p;
        return again ? null : placed(p);
      });
    });
    return done(piece, { events: dropped, eventWords: 'presets taken out' });
  },
});

export const presetsFromMarkers = defineStep({
  id: 'presets-from-markers',
  reach: 'parts',
  title: 'Presets from markers',
  summary:
    'Chooses a preset at each marker of a table, so long before it. Presets that stood there go. The table can be used again for a newer export.',
  params: z.strictObject({
    table: z
      .array(
        z.strictObject({
          marker: z.string().min(1).max(200).describe('The words of the marker'),
          bank: number,
          program: number,
        }),
      )
      .min(1)
      .max(500),
    leadMs: z.number().min(0).max(10_000),
  }),
  describe: (p) =>
    `presets from ${p.table.length} ${p.table.length === 1 ? 'marker' : 'markers'}, ${plain(p.leadMs)} ms before`,
  apply(input) {
    const { table, leadMs } = input.params;
    const markers = input.piece.score.conductor.markers;
    const wanted = new Map(table.map((t) => [t.marker.trim().toLowerCase(), t]));
    const rows = markers.flatMap((m): Placed[] => {
      const own = wanted.get(m.text.trim().toLowerCase());
      if (!own) return [];
      const { bank, program } = own;
      return [{ tick: m.tick === 0 ? 0 : before(m.tick, leadMs, input.maps), bank, program }];
    });
    if (rows.length === 0) return { refused: 'None of the markers of the table is in the piece.' };
    // Written once, on the first part that it is for.
    let written = false;
    const result = changePresets(
      input,
      // What the piece begins with stays where the table says nothing of the start.
      (presets) =>
        presets.map((p) => (p.tick === 0 && rows.every((r) => r.tick > 0) ? placed(p) : null)),
      () => {
        const own = written ? [] : rows;
        written = true;
        return own;
      },
    );
    const missing = table.filter(
      (t) => !markers.some((m) => m.text.trim().toLowerCase() === t.marker.trim().toLowerCase()),
    );
    return done(result.piece, { events: result.added, eventWords: 'presets written' }, [
      { what: 'presets that were there', count: result.dropped },
      { what: 'markers of the table that are not there', count: missing.length },
    ]);
  },
});
