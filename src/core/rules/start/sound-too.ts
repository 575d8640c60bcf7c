import type { Mend } from '../finding';
import { APART_MS, apartOf, liesBeside } from '../../sound/beside';
import { soundGoesOut } from '../../target/sound';
import type { RuleInput } from '../define-rule';

export const SAME_LENGTH_MS = 30;

/**
 * Mends that move the score, each with one that moves the companion sound as well. Where both lie
 * together now, that one comes first: it keeps them so.
 */
export function withSoundToo(
  {
    soundName,
    listened,
    target,
    piece,
    maps,
  }: Pick<RuleInput<never>, 'soundName' | 'listened' | 'target' | 'piece' | 'maps'>,
  mends: readonly Mend[],
): Mend[] {
  if (soundName === null || !soundGoesOut(target)) return [...mends];
  const apart = listened && apartOf(liesBeside(piece, maps.clock, listened));
  const together = apart !== null && Math.abs(apart) <= APART_MS;
  return mends.flatMap((m) => {
    const both: Mend = {
      title: `${m.title}, and as much silence before the sound`,
      steps: m.steps.map((s) => ({ ...s, params: { ...(s.params as object), soundToo: true } })),
    };
    return together ? [both, m] : [m, both];
  });
}
