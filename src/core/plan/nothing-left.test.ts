import { describe, expect, it } from 'vitest';
import { smf, Track } from '../../../demo/song';
import { mendingSongs } from '../../../demo/mending-songs';
import { sourceFromBytes } from '../../../testing/score-builder';
import { anyTune, bytesOf, dice } from '../../../testing/strangers/tune';
import { proof } from '../rules/proof';
import type { Rendition } from '../score/piece';
import { isIn } from '../score/score';
import { heardEvents } from '../target/heard';
import { builtInTargets } from '../target/index';
import type { Target } from '../target/schema';
import { baseOf } from './base';
import { mendMany } from './mend';
import { runPlan } from './run';
import { Trials } from './trial';

/** Lines from the bass to the loft, half of whose keys no organ has: each needs an octave of its own. */
function besideTheKeys(seed: number, lines: number, apart: number): Uint8Array {
  const { below, between, pick } = dice(seed);
  const tracks = Array.from({ length: lines }, (_, n) => {
    const track = new Track(`Line ${n + 1}`);
    for (let i = 0; i < 96; i++) {
      if (below(4) === 0) continue;
      const key = 38 + apart * n + pick([1, 4, 8]);
      track.note(n + 1, i * 240, between(110, 230), key, between(60, 100));
    }
    return track;
  });
  return smf(1, 480, [new Track('Beside the keys').tempo(0, 112).meter(0, 4, 4), ...tracks]);
}

const songs = [
  ['seven beside the keys', besideTheKeys(143, 7, 10)] as const,
  ['eight beside the keys', besideTheKeys(170, 8, 5)] as const,
  ...mendingSongs()
    .filter((_, i) => i % 5 === 1)
    .map((s) => [s.shape, s.bytes] as const),
  ...[3, 14, 15].map(
    (seed) => [`strangers, ${seed}`, bytesOf(anyTune(dice(seed), 'strange'))] as const,
  ),
];

/** What would leave nothing is not taken, whatever else it does. */
const isEmpty = ({ pieces }: Rendition, target: Target) =>
  pieces.every(({ score }) =>
    score.parts.filter(isIn).every((p) => {
      const { presets, values } = heardEvents(p, target);
      return target.notes?.none ? presets + values === 0 : p.notes.count === 0;
    }),
  );

describe.each(songs)('%s, when everything was mended', (_, bytes) => {
  it('no stop is left that one of its own mends would take away', () => {
    for (const target of builtInTargets) {
      const base = baseOf(sourceFromBytes(bytes, 'song.mid'));
      const { rendition } = runPlan({ base, target, plan: { steps: [] } });
      const done = mendMany({ rendition, target, base, reach: 'drop', accept: true });
      const trials = new Trials(base, target, () => {});
      const stopsOf = (findings: typeof done.findings) =>
        findings.filter((f) => f.severity === 'stop');
      const left = stopsOf(done.findings);
      for (const f of left)
        for (const mend of f.mends.filter((m) => !m.byHand)) {
          const trial = trials.try(done.rendition, mend);
          if (trial.refused !== null) continue;
          const after = stopsOf(proof({ rendition: trial.rendition, target, base }));
          if (isEmpty(trial.rendition, target)) continue;
          const says = `${target.id}: ${f.key}: ${mend.title}`;
          expect(after.length, says).toBeGreaterThanOrEqual(left.length);
        }
    }
  });
});
