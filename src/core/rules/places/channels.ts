import { SpanList, defineRule, mend, says } from '../define-rule';
import { count } from '../../target/words';
import { leaveOut, setChannel } from '../../steps/routing';

export const channels = defineRule({
  id: 'channels',
  summary: 'Only the channels that the target listens to.',
  story: {
    why: 'Drum tracks are exported on the channel of the session, not on that of the device.',
    mends: 'The part moves to the channel, or is left out.',
  },
  block: 'channels',
  phase: 'seating',
  codes: {
    'other-channel': says<{ name: string; channel: number; notesText: string; allowed: string }>({
      title: 'Channel that is not heard',
      wrong: (f) => `“${f.name}” is on channel ${f.channel}: ${f.notesText}.`,
      then: (f, w) => `${w.Target} listens to ${f.allowed} and to nothing else.`,
    }),
  },
  check({ heard, block, report }) {
    const allowed = new Set(block.only);
    for (const part of heard()) {
      if (allowed.has(part.channel) || part.notes.count + part.events.count === 0) continue;
      const first = new SpanList();
      if (part.notes.count > 0) first.add(part, 0);
      const to = block.only[0]!;
      report({
        code: 'other-channel',
        part,
        spans: first.spans,
        notes: part.notes.id,
        data: {
          name: part.name,
          channel: part.channel,
          notesText: count(part.notes.count, 'note'),
          allowed: block.only.length === 1 ? `channel ${to}` : `channels ${block.only.join(', ')}`,
        },
        measured: { value: part.channel, unit: 'channel' },
        allowed: { channels: block.only },
        mends: [
          mend(`Move it to channel ${to}`, setChannel, { channel: to }, [part]),
          mend('Leave the part out', leaveOut, {}, [part]),
        ],
      });
    }
  },
});
