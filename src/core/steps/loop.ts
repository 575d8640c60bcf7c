import * as z from 'zod';
import { deliveredEnd } from '../reading/ends';
import { seamOf } from '../reading/seam';
import { joinEvents, newEvents } from '../score/columns';
import type { Marker } from '../score/score';
import { LATEST_TICK } from '../smf/file';
import { encodeUtf8 } from '../smf/text';
import { changeParts, defineStep, done, withScore } from './define-step';

export const loop = defineStep({
  id: 'loop',
  reach: 'piece',
  title: 'Loop from here',
  summary: 'Sets the one marker where the loop begins; other markers of that name go.',
  params: z.strictObject({
    label: z.string().min(1).max(60).describe('The marker that the target looks for'),
    bar: z.int().min(1).describe('Bar, from 1'),
  }),
  describe: (p) => `loop from bar ${p.bar} (marker ${p.label})`,
  apply({ piece, params, maps }) {
    const tick = maps.bars.barStart(params.bar - 1);
    if (tick >= deliveredEnd(piece)) return { refused: `The piece has no bar ${params.bar}.` };
    const { conductor } = piece.score;
    const others = conductor.markers.filter((m) => m.text !== params.label);
    const mark: Marker = {
      tick,
      track: 0,
      order: 0,
      text: params.label,
      encoding: 'utf-8',
      bytes: encodeUtf8(params.label),
    };
    const markers = [...others, mark].sort((a, b) => a.tick - b.tick);
    return done(withScore(piece, { conductor: { ...conductor, markers } }), {
      events: 1 + conductor.markers.length - others.length,
      eventWords: 'markers set',
    });
  },
});

export const placeMarker = defineStep({
  id: 'place-marker',
  reach: 'piece',
  title: 'Place a marker',
  summary: 'Sets a marker at a bar; one that stands there already gets the new label.',
  params: z.strictObject({
    label: z.string().min(1).max(200).describe('Label'),
    bar: z.int().min(1).describe('Bar, from 1'),
    beat: z.int().min(1).max(64).optional().describe('Beat, from 1'),
  }),
  describe: (p) =>
    `marker “${p.label}” at bar ${p.bar}${p.beat === undefined ? '' : ` beat ${p.beat}`}`,
  apply({ piece, params, maps }) {
    const tick = maps.bars.tickOf(params.bar, params.beat ?? 1);
    if (tick > LATEST_TICK)
      return { refused: 'The bar would pass the latest tick that a file can hold.' };
    const { conductor } = piece.score;
    const mark: Marker = {
      tick,
      track: conductor.markers[0]?.track ?? 0,
      order: 0,
      text: params.label,
      encoding: 'utf-8',
      bytes: encodeUtf8(params.label),
    };
    const others = conductor.markers.filter((m) => m.tick !== tick);
    const markers = [...others, mark].sort((a, b) => a.tick - b.tick);
    return done(withScore(piece, { conductor: { ...conductor, markers } }), {
      events: 1,
      eventWords: 'marker set',
    });
  },
});

export const stateSeam = defineStep({
  id: 'state-seam',
  reach: 'parts',
  title: 'Say again at the seam',
  summary: 'Writes at the beginning of the loop what is in force there, where the end differs.',
  params: z.strictObject({
    marker: z
      .string()
      .min(1)
      .max(60)
      .optional()
      .describe('The marker where the loop begins; else it begins at the start'),
    fromTick: z.int().min(0).optional().describe('Ticks of the piece as it is there'),
  }),
  describe: (p) =>
    `say level, program and bend again ${p.marker !== undefined ? `at the marker ${p.marker}` : p.fromTick ? `at tick ${p.fromTick}` : 'at the start'}`,
  apply(input) {
    const { params, piece } = input;
    const end = deliveredEnd(piece);
    const { markers } = piece.score.conductor;
    const marker = markers.find((m) => m.text === params.marker);
    if (params.marker !== undefined && !marker)
      return { refused: `There is no marker ${params.marker}.` };
    const from = marker?.tick ?? params.fromTick ?? 0;
    let events = 0;
    const next = changeParts(input, (part) => {
      const differs = seamOf(part.events, from, end);
      if (differs.length === 0) return part;
      const extra = newEvents(differs.length);
      differs.forEach(({ slot, first }, i) => {
        extra.tick[i] = from;
        extra.kind[i] = slot >= 0xe000 ? 0xe0 : slot >= 0xc000 ? 0xc0 : 0xb0;
        extra.data1[i] = slot >= 0xe000 ? first % 128 : slot >= 0xc000 ? first : slot - 0xb000;
        extra.data2[i] = slot >= 0xe000 ? first >> 7 : slot >= 0xc000 ? 0 : first;
      });
      events += differs.length;
      return { ...part, events: joinEvents([part.events, extra]) };
    });
    return done(next, { events, eventWords: 'events written at the seam' });
  },
});
