import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { parlourEvening } from '../../../demo/more-tunes';
import { turnOfTheTide } from '../../../demo/tunes';
import { stepsOf } from '../../../testing/rehearsing';
import { sourceFromBytes } from '../../../testing/score-builder';
import { baseOf } from '../plan/base';
import { mendMany } from '../plan/mend';
import { runPlan } from '../plan/run';
import { builtInTargets } from '../target/index';
import { handOverSong, knowSong } from './hand-over-song';

const sha256 = async (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');
const songs = [turnOfTheTide(), parlourEvening()].map((b) => baseOf(sourceFromBytes(b)));

/** The quick way and the whole one: what a set says of a song is what goes out. */
describe('what is known of a song is what goes out', () => {
  for (const target of builtInTargets)
    it(target.id, async () => {
      for (const [n, base] of songs.entries()) {
        const { rendition } = runPlan({ base, target, plan: { steps: [] } });
        const { applied } = mendMany({ rendition, base, target, reach: 'drop', accept: true });
        const steps = stepsOf(applied);
        for (const order of [
          { plan: { steps: [] } },
          { plan: { steps }, name: '02-salt' },
          { plan: { steps }, recordingMs: 61_000, soundName: 'salt.wav' },
        ]) {
          const song = { title: `${n}`, base, target, leftAsIs: [], sha256, ...order };
          const { facts } = await handOverSong(song);
          expect(await knowSong(song)).toEqual(facts);
          expect(facts.lengthMs).toBeGreaterThan(1000);
        }
      }
    });
});
