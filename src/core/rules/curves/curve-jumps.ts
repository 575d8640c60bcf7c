import { BEND } from '../../reading/curves';
import { rampJumps, slewCurve } from '../../steps/curves/shape';
import { count, plain } from '../../target/words';
import { defineRule, HAIR, mend, says } from '../define-rule';
import { spansOf } from '../events/spans';
import { CurvePlaces, ofBlocks, sayCurves, wantedOf } from './block-curves';

/** Values a second of a fade, where the target sets no rate of its own. */
const PER_SECOND = 40;

export const curveJumps = defineRule({
  id: 'curve-jumps',
  summary: 'Values move no further at once, and no faster, than the target follows.',
  story: {
    why: 'A level was typed in, or a fade was drawn as a step.',
    mends: 'A jump gets values on the way to it; what is too fast becomes a fade.',
  },
  block: 'curves',
  phase: 'events',
  codes: {
    jump: says<{ name: string; countText: string; most: number; allowed: number; one: number }>({
      title: 'Value jumps',
      named: (f) => `${f.name} jumps`,
      wrong: (f) =>
        `${f.countText} of ${f.name} ${f.one ? 'is' : 'are'} over ${f.allowed}, the largest ${f.most}.`,
      then: (_, w) => `${w.Target} is heard to click there.`,
    }),
    slew: says<{ name: string; countText: string; fullText: string; one: number }>({
      title: 'Value changes faster than the device follows',
      named: (f) => `${f.name} faster than it can follow`,
      wrong: (f) =>
        `${f.countText} of ${f.name} ${f.one ? 'moves' : 'move'} faster than from 0 to full in ${f.fullText} ms.`,
      then: (_, w) => `${w.Target} comes there later than it is written.`,
    }),
  },
  check({ curves, block, report }) {
    const of = ofBlocks(
      block.list,
      curves,
      (b) => b.mostJump !== undefined || b.slewMs !== undefined,
    );
    for (const { block: b, index, own } of of) {
      const [jumps, fast] = [new CurvePlaces(), new CurvePlaces()];
      let most = 0;
      for (const curve of own) {
        const full = curve.kind === BEND ? 16_383 : 127;
        const msPer = (b.slewMs ?? 0) / full;
        // What it comes to before the next value can be sent is no clipping.
        const slot = 1000 / (b.perSecond ?? PER_SECOND);
        let value: number | null = b.slewMs === undefined ? null : 0;
        for (let i = 0; i < curve.count; i++) {
          const tick = curve.tick[i]!;
          const jump = value === null ? 0 : Math.abs(curve.value[i]! - value);
          if (tick > 0 && b.mostJump !== undefined && jump > b.mostJump && value !== null) {
            jumps.add(curve, i);
            most = Math.max(most, jump);
          }
          if (tick > 0 && b.slewMs !== undefined && jump > 1 && jump * msPer > slot + HAIR)
            fast.add(curve, i);
          value = curve.value[i]!;
        }
      }
      const rate = b.perSecond ?? PER_SECOND;
      if (jumps.count > 0)
        report({
          code: 'jump',
          cause: String(index),
          severity: b.severity ?? 'caution',
          spans: spansOf(jumps.ticks),
          data: {
            name: sayCurves(b, jumps.own),
            countText: count(jumps.count, 'jump'),
            most,
            allowed: b.mostJump!,
            one: jumps.count === 1 ? 1 : 0,
          },
          measured: { value: most, unit: 'steps' },
          allowed: { mostJump: b.mostJump! },
          mends: [
            mend('Fill the jumps with values between', rampJumps, {
              ...wantedOf(jumps.own),
              mostJump: b.mostJump!,
              perSecond: rate,
            }),
          ],
        });
      if (fast.count > 0)
        report({
          code: 'slew',
          cause: String(index),
          severity: b.severity ?? 'caution',
          spans: spansOf(fast.ticks),
          data: {
            name: sayCurves(b, fast.own),
            countText: count(fast.count, 'value'),
            fullText: plain(b.slewMs!),
            one: fast.count === 1 ? 1 : 0,
          },
          measured: { value: fast.count, unit: 'values' },
          allowed: { slewMs: b.slewMs! },
          mends: [
            mend('Fade as fast as the device follows', slewCurve, {
              ...wantedOf(fast.own),
              fullMs: b.slewMs!,
              perSecond: rate,
            }),
          ],
        });
    }
  },
});
