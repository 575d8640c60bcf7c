import * as z from 'zod';
import { deliveredEnd } from '../reading/ends';
import type { Piece } from '../score/piece';
import { placedLater, type SoundEdit } from '../sound/edits';
import { followScore } from '../sound/follow-score';
import { count, plain } from '../target/words';
import { sayClock } from '../time/meter-map';
import { mapsOf } from '../score/inventory';
import { endTickOf } from '../score/score';
import { defineStep, done } from './define-step';

/** Steps on the sound that plays beside the score. They are edits: no sample is touched here. */

const LONGEST_MS = 3_600_000;
const place = z.number().min(0).max(LONGEST_MS);
const us = (ms: number) => Math.round(ms * 1000);
const seconds = (ms: number) => `${plain(Math.abs(ms) / 1000)} s`;

/** A piece whose sound is changed once more. */
export const withSound = (piece: Piece, edits: readonly SoundEdit[]): Piece =>
  edits.length === 0 ? piece : { ...piece, sound: [...(piece.sound ?? []), ...edits] };

const edited = (piece: Piece, edits: readonly SoundEdit[], says: string) =>
  done(withSound(piece, edits), { says: edits.length === 0 ? 'Nothing to change' : says });

export const soundLater = defineStep({
  id: 'sound-later',
  reach: 'piece',
  title: 'Sound later or earlier',
  summary: 'Silence before the companion sound, or its beginning cut off. The score stays.',
  params: z.strictObject({
    ms: z.number().min(-LONGEST_MS).max(LONGEST_MS).describe('Milliseconds later'),
  }),
  describe: ({ ms }) =>
    ms < 0 ? `sound ${seconds(ms)} earlier` : `${seconds(ms)} of silence before the sound`,
  apply: ({ piece, params: { ms } }) =>
    edited(piece, placedLater(us(ms)), `Sound ${seconds(ms)} ${ms < 0 ? 'earlier' : 'later'}`),
});

export const soundGap = defineStep({
  id: 'sound-gap',
  reach: 'piece',
  title: 'Silence put into the sound',
  summary: 'Opens the companion sound at a place and puts silence in; what stands behind moves.',
  params: z.strictObject({
    atMs: place.describe('Milliseconds of the sound'),
    ms: place.describe('Milliseconds long'),
  }),
  describe: (p) => `${seconds(p.ms)} of silence put in at ${seconds(p.atMs)}`,
  apply: ({ piece, params }) =>
    edited(
      piece,
      params.ms > 0 ? [{ is: 'insert', atUs: us(params.atMs), us: us(params.ms) }] : [],
      `${seconds(params.ms)} of silence put in`,
    ),
});

export const soundCut = defineStep({
  id: 'sound-cut',
  reach: 'piece',
  title: 'Cut out of the sound',
  summary: 'Takes a stretch out of the companion sound; what stands behind it moves up.',
  params: z.strictObject({
    fromMs: place.describe('Milliseconds of the sound'),
    toMs: place.describe('Milliseconds of the sound'),
  }),
  describe: (p) => `sound without ${seconds(p.fromMs)} to ${seconds(p.toMs)}`,
  apply({ piece, params: { fromMs, toMs } }) {
    if (toMs <= fromMs) return { refused: 'The end of what is cut must lie behind its start.' };
    const edit: SoundEdit = { is: 'cut', fromUs: us(fromMs), toUs: us(toMs) };
    return edited(piece, [edit], `${seconds(toMs - fromMs)} cut out`);
  },
});

export const soundSilence = defineStep({
  id: 'sound-silence',
  reach: 'piece',
  title: 'Silence a stretch of the sound',
  summary: 'Nothing is heard of the companion sound in a stretch; nothing moves.',
  params: z.strictObject({
    fromMs: place.describe('Milliseconds of the sound'),
    toMs: place.describe('Milliseconds of the sound'),
  }),
  describe: (p) => `sound silent from ${seconds(p.fromMs)} to ${seconds(p.toMs)}`,
  apply({ piece, params: { fromMs, toMs } }) {
    if (toMs <= fromMs) return { refused: 'The end of the silence must lie behind its start.' };
    const edit: SoundEdit = { is: 'silence', fromUs: us(fromMs), toUs: us(toMs) };
    return edited(piece, [edit], `${seconds(toMs - fromMs)} silenced`);
  },
});

export const soundLevel = defineStep({
  id: 'sound-level',
  reach: 'piece',
  title: 'Level and fades of the sound',
  summary: 'Makes the companion sound louder or softer; fades it in at its start, out at its end.',
  params: z.strictObject({
    db: z.number().min(-96).max(24).optional().describe('Decibels'),
    fadeInMs: place.optional().describe('Milliseconds'),
    fadeOutMs: place.optional().describe('Milliseconds'),
  }),
  describe: (p) =>
    [
      p.db === undefined ? '' : `sound ${p.db < 0 ? '−' : '+'}${plain(Math.abs(p.db))} dB`,
      p.fadeInMs ? `fade in over ${seconds(p.fadeInMs)}` : '',
      p.fadeOutMs ? `fade out over ${seconds(p.fadeOutMs)}` : '',
    ]
      .filter(Boolean)
      .join(', ') || 'sound as it is',
  apply({ piece, params: { db = 0, fadeInMs = 0, fadeOutMs = 0 } }) {
    const edits: SoundEdit[] = [];
    if (db !== 0) edits.push({ is: 'gain', db });
    if (fadeInMs > 0 || fadeOutMs > 0)
      edits.push({ is: 'fade', inUs: us(fadeInMs), outUs: us(fadeOutMs) });
    return edited(piece, edits, 'Level of the sound changed');
  },
});

export const soundEnd = defineStep({
  id: 'sound-end',
  reach: 'piece',
  title: 'Length of the sound',
  summary:
    'Gives the companion sound an exact length, that of the score where none is said: cut off, or silence behind it.',
  params: z.strictObject({
    ms: z.number().min(1).max(LONGEST_MS).optional().describe('Milliseconds'),
  }),
  describe: ({ ms }) =>
    ms === undefined ? 'sound as long as the score' : `sound ${seconds(ms)} long`,
  apply({ piece, params, maps }) {
    const ms = params.ms ?? maps.clock.msAt(deliveredEnd(piece));
    if (!(ms > 0)) return { refused: 'The score has no length that the sound could have.' };
    return edited(piece, [{ is: 'length', us: us(ms) }], `Sound ${seconds(ms)} long`);
  },
});

export const soundFollow = defineStep({
  id: 'sound-follow',
  reach: 'piece',
  title: 'Sound follows the score',
  summary:
    'Cuts the companion sound where bars were cut, and puts silence where rests were put in, by all that stands before this step.',
  params: z.strictObject({}),
  describe: () => 'the sound follows the score',
  apply({ piece, maps, came }) {
    if (piece.soundMoved)
      return {
        refused:
          'A step before this one took the sound along already. Turn that off in it, or leave this step out.',
      };
    const before = mapsOf(came.score).clock;
    // What brought several sources to one PPQ is no move.
    const known = came.fromBase?.stages.length ?? 0;
    const map = { stages: piece.fromBase?.stages.slice(known) ?? [] };
    const ends = { base: endTickOf(came.score), now: endTickOf(piece.score) };
    const followed = followScore(map, before, maps.clock, ends);
    if ('stretchedAtTick' in followed)
      return {
        refused: `From ${sayClock(before.msAt(followed.stretchedAtTick))} on the tempo is another one: a sound can be moved and cut here, not made faster or slower.`,
      };
    const { edits } = followed;
    if (edits.length === 0) return done(piece, { says: 'The sound lies beside it as it is' });
    return edited(
      { ...piece, soundMoved: true },
      edits,
      `Sound changed in ${count(edits.length, 'place')}`,
    );
  },
});
