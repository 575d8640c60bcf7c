import { count } from '../../target/words';
import { defineRule, mend, says, spanAt } from '../define-rule';
import { leaveOut } from '../../steps/routing';
import { strip } from '../../steps/strip';

export const silentChannel = defineRule({
  id: 'silent-channel',
  summary: 'Only channels that have notes.',
  story: {
    why: 'An empty track still sends its level.',
    mends: 'Its events are taken out, or the part is left out.',
  },
  block: 'events',
  reads: ['silentChannels'],
  phase: 'events',
  codes: {
    'silent-channel': says<{ name: string; channel: number; eventsText: string }>({
      title: 'Channel without notes',
      wrong: (f) => `“${f.name}” has ${f.eventsText} on channel ${f.channel} and no note.`,
      then: (_, w) => `${w.Target} makes a row for it that stays dark.`,
    }),
  },
  check({ heard, block, report }) {
    if (block.silentChannels !== 'none') return;
    for (const part of heard()) {
      if (part.notes.count > 0 || part.events.count === 0) continue;
      report({
        code: 'silent-channel',
        part,
        spans: [spanAt(part.events.tick[0]!)],
        data: {
          name: part.name,
          channel: part.channel,
          eventsText: count(part.events.count, 'event'),
        },
        measured: { value: 0, unit: 'notes' },
        allowed: { silentChannels: 'none' },
        mends: [
          mend(
            'Take its events out',
            strip,
            { kinds: ['controllers', 'programs', 'bends', 'aftertouch', 'stray note-offs'] },
            [part],
          ),
          mend('Leave the channel out', leaveOut, {}, [part]),
        ],
      });
    }
  },
});
