import { META } from '../../smf/file';
import { count } from '../../target/words';
import { defineRule, mend, says } from '../define-rule';
import { isKnownMeta, isTextMeta } from '../../score/inventory';
import { spansOf } from './spans';
import { writtenEvents } from './written';
import { strip } from '../../steps/strip';

export const systemEvents = defineRule({
  id: 'system-events',
  summary: 'Sysex and unknown meta events.',
  story: {
    why: 'Set-up data of another device was saved with the song.',
    mends: 'They are taken out.',
  },
  block: 'events',
  reads: ['sysex', 'unknownMeta'],
  phase: 'events',
  codes: {
    sysex: says<{ countText: string; one: number }>({
      title: 'System exclusive data not supported',
      wrong: (f) => `There ${f.one ? 'is' : 'are'} ${f.countText}.`,
      then: (_, w) => `${w.Target} cannot read another device's data and may stop at it.`,
    }),
    'unknown-meta': says<{ countText: string; one: number }>({
      title: 'Unknown meta events',
      wrong: (f) => `There ${f.one ? 'is' : 'are'} ${f.countText}.`,
      then: (_, w) => `${w.Target} does not know them and may stop there.`,
    }),
  },
  check({ block, piece, report }) {
    const events = writtenEvents(piece);
    const found = [
      ['sysex', block.sysex, events.filter((e) => e.status !== META), 'sysex event'],
      [
        'unknown-meta',
        block.unknownMeta,
        events.filter((e) => e.status === META && !isKnownMeta(e.type) && !isTextMeta(e.type)),
        'unknown meta event',
      ],
    ] as const;
    for (const [code, accepted, list, word] of found) {
      if (accepted !== 'none' || list.length === 0) continue;
      report({
        code,
        spans: spansOf(list.map((e) => e.tick)),
        data: { countText: count(list.length, word), one: list.length === 1 ? 1 : 0 },
        measured: { value: list.length, unit: `${word}s` },
        allowed: { [code]: 'none' },
        mends: [
          mend('Remove these events', strip, {
            kinds: [code === 'sysex' ? 'sysex' : 'unknown meta'],
          }),
        ],
      });
    }
  },
});
