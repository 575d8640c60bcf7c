import { figuresOf } from '../compare/figures';
import { musicIn, type Figures } from '../compare/say-figures';
import type { Rendition } from '../score/piece';
import type { Base } from '../sources/merge';
import { callStep } from '../steps/define-step';
import { fitVoices } from '../steps/spacing/fit-voices';
import { thin } from '../steps/spacing/thin';
import type { Target } from '../target/schema';
import { runStep } from './run-step';

/**
 * What a listener would follow of a rendition once it is mended for its target: as far as its voices
 * and its distances decide, which is most of what is dropped. For telling who should play.
 */
export function promisedBy(rendition: Rendition, target: Target, base: Base): Figures {
  const { polyphony, spacing } = target;
  const steps = [
    ...(polyphony
      ? [callStep(fitVoices, { voices: polyphony.together, over: polyphony.over })]
      : []),
    ...(spacing?.apartMs === undefined
      ? []
      : [
          callStep(thin, {
            apartMs: spacing.apartMs,
            per: 'seat' as const,
            keep: 'beats' as const,
            ...(polyphony ? {} : { chordsToo: true }),
          }),
        ]),
  ];
  const heard = steps.reduce((r, step) => runStep(r, step, base).rendition, rendition);
  return figuresOf(base.rendition, heard, target);
}

/** Ways of a choice in the order of the music that they keep; of those alike the first stays first. */
export function byMusic<T>(ways: readonly T[], figures: (way: T) => Figures | null): T[] {
  const worth = new Map(
    ways.map((way) => {
      const f = figures(way);
      // A hundredth is not heard.
      return [way, f === null ? -1 : Math.round((musicIn(f) ?? 0) * 100)] as const;
    }),
  );
  return [...ways].sort((a, b) => worth.get(b)! - worth.get(a)!);
}
