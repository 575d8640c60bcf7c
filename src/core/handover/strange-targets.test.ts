import { describe, expect, it } from 'vitest';
import { deliver, toldSteps } from '../../../testing/rehearsing';
import { anyTarget } from '../../../testing/strangers/targets';
import { anyTune, dice, sourceOf } from '../../../testing/strangers/tune';
import { rehearsalOf } from './rehearsal';

/** More are tried with `LAW_RUNS=1000`. */
const RUNS = Number(process.env['LAW_RUNS'] ?? 40);

describe('targets of strangers: what the device does not play as it is meant, a finding says', () => {
  const made = Array.from({ length: 2 * RUNS }, (_, n) => [n, anyTarget(dice(3100 + n))] as const)
    .flatMap(([n, target]) => (target ? [[`${n}, of ${target.id}`, n, target] as const] : []))
    .slice(0, RUNS);

  it('most can be read', () => expect(made.length).toBe(RUNS));

  it.each(made)('%s', (_, n, target) => {
    const source = sourceOf(anyTune(dice(n), 'strange.mid', [3, 7]));
    for (const mended of [false, true]) {
      const { files, rendition, findings } = deliver(source, target, {
        mended,
        steps: toldSteps(target),
      });
      const { unexplained } = rehearsalOf(files, rendition, target, findings);
      expect(unexplained, mended ? 'mended' : 'as it came').toEqual([]);
    }
  });
});
