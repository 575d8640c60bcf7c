import { describe, expect, it } from 'vitest';
import { deliver } from '../../../testing/rehearsing';
import { smf, sourceFromBytes, Track } from '../../../testing/score-builder';
import { builtInTargets } from '../target/index';

/** Two notes, days apart, in some eighty bytes: at one tick a quarter. */
const days = () =>
  sourceFromBytes(
    smf(0, 1, [new Track('A').note(1, 0, 1, 60, 90).note(1, 2 ** 27, 1, 60, 90)]),
    'days.mid',
  );

describe('eighty bytes that last for days', () => {
  for (const target of builtInTargets)
    it(`${target.id}: written, played or refused, mended or not`, () => {
      for (const mended of [false, true]) {
        const { files } = deliver(days(), target, { mended });
        expect(files.reduce((n, f) => n + f.bytes.length, 0)).toBeLessThan(20_000_000);
      }
    }, 10_000);
});
