import type { Preset } from '../../reading/curves';
import { spacePresets } from '../../steps/presets/presets';
import { count, plain } from '../../target/words';
import { defineRule, HAIR, mend, says } from '../define-rule';
import { follow, places } from './block-presets';

export const presetSpacing = defineRule({
  id: 'preset-spacing',
  summary: 'Presets follow each other no sooner than the target can load them.',
  story: {
    why: 'A preset was chosen to pass through, or twice by two tracks.',
    mends: 'Of those that follow too soon the last stays: it is the one that is heard.',
  },
  block: 'presets',
  reads: ['apartMs'],
  phase: 'density',
  codes: {
    'presets-close': says<{
      countText: string;
      leastText: string;
      allowedText: string;
      one: number;
    }>({
      title: 'Presets too close together',
      wrong: (f) =>
        `${f.countText} ${f.one ? 'follows' : 'follow'} another sooner than ${f.allowedText} ms, the closest after ${f.leastText} ms.`,
      then: (_, w) => `${w.Target} is still loading the one before and passes over the next.`,
    }),
  },
  check({ presets, block, maps, report }) {
    const { apartMs } = block;
    if (apartMs === undefined) return;
    const close: Preset[] = [];
    let least = Infinity;
    for (const { preset, gapMs } of follow(presets(), maps))
      if (gapMs < apartMs - HAIR) {
        close.push(preset);
        least = Math.min(least, gapMs);
      }
    if (close.length === 0) return;
    report({
      code: 'presets-close',
      spans: places(close),
      data: {
        countText: count(close.length, 'preset'),
        leastText: plain(Math.floor(least)),
        allowedText: plain(apartMs),
        one: close.length === 1 ? 1 : 0,
      },
      measured: { value: least, unit: 'ms' },
      allowed: { apartMs },
      mends: [mend('Keep the last of presets that are too close', spacePresets, { apartMs })],
    });
  },
});
