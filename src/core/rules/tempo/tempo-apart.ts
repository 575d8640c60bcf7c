import { spaceTempos } from '../../steps/timing/space-tempos';
import { count, plain } from '../../target/words';
import { defineRule, HAIR, mend, says } from '../define-rule';
import { spansOf } from '../events/spans';

export const tempoApart = defineRule({
  id: 'tempo-apart',
  summary: 'Tempos follow each other no sooner than the target can.',
  story: {
    why: 'A ritardando was drawn with a tempo for each beat.',
    mends: 'Those that follow too soon become one that lasts as long in all.',
  },
  block: 'tempo',
  reads: ['apartMs'],
  phase: 'tempo and meter',
  codes: {
    'tempos-close': says<{
      countText: string;
      allowedText: string;
      leastText: string;
      one: number;
    }>({
      title: 'Tempo changes too close together',
      wrong: (f) =>
        `${f.countText} ${f.one ? 'follows' : 'follow'} another sooner than ${f.allowedText} ms, the closest after ${f.leastText} ms.`,
      then: (_, w) => `${w.Target} has not settled to the one before.`,
    }),
  },
  check({ piece, block, maps, report }) {
    const { apartMs } = block;
    if (apartMs === undefined) return;
    const close: number[] = [];
    let [last, least] = [-Infinity, Infinity];
    for (const t of piece.score.conductor.tempos) {
      const at = maps.clock.msAt(t.tick);
      if (at - last < apartMs - HAIR) {
        close.push(t.tick);
        least = Math.min(least, at - last);
      }
      last = at;
    }
    if (close.length === 0) return;
    report({
      code: 'tempos-close',
      spans: spansOf(close),
      data: {
        countText: count(close.length, 'tempo'),
        allowedText: plain(apartMs),
        leastText: plain(Math.floor(least)),
        one: close.length === 1 ? 1 : 0,
      },
      measured: { value: least, unit: 'ms' },
      allowed: { apartMs },
      mends: [mend('Merge tempo changes that are too close', spaceTempos, { apartMs })],
    });
  },
});
