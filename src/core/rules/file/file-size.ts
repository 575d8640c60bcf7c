import { asDelivered } from '../../reading/as-delivered';
import { defineRule, mend, says } from '../define-rule';
import { dropDuplicates } from '../../steps/strip';
import { fileOf } from '../../score/to-file';
import { isIn } from '../../score/score';
import { leaveOut } from '../../steps/routing';
import { repeatsOf } from '../../reading/news';
import { writeSmf } from '../../smf/write';

export const fileSize = defineRule({
  id: 'file-size',
  summary: 'The size of the file as it is written.',
  story: {
    why: 'Bends and controllers outnumber the notes.',
    mends: 'Events that repeat are dropped, or a part that makes room enough is left out.',
  },
  block: 'file',
  reads: ['mostBytes'],
  phase: 'end',
  codes: {
    'file-large': says<{ bytes: string; most: string }>({
      title: 'Too large',
      wrong: (f) => `The file takes ${f.bytes} bytes.`,
      then: (f, w) => `${w.Target} has room for ${f.most} and cuts off the rest.`,
    }),
  },
  check({ block, target, piece, report }) {
    const most = block.mostBytes;
    if (most === undefined) return;
    const bytes = writeSmf(fileOf(asDelivered(piece, target))).length;
    if (bytes <= most) return;
    const parts = piece.score.parts.filter((p) => isIn(p) && p.notes.count > 0);
    const repeats = repeatsOf(piece.score).size > 0;
    // A note takes about eight bytes: which part would be enough on its own.
    const over = bytes - most;
    const enough = parts
      .filter((p) => (p.notes.count * 2 + p.events.count) * 4 >= over)
      .sort((a, b) => a.notes.count - b.notes.count)[0];
    report({
      code: 'file-large',
      data: { bytes: bytes.toLocaleString('en-GB'), most: most.toLocaleString('en-GB') },
      measured: { value: bytes, unit: 'bytes' },
      allowed: { mostBytes: most },
      mends: [
        ...(repeats
          ? [mend('Drop events that repeat', dropDuplicates, { notes: false, events: true })]
          : []),
        ...(enough ? [mend(`Leave “${enough.name}” out`, leaveOut, {}, [enough])] : []),
      ],
      ...(repeats || enough ? {} : { noMend: 'Leave several parts out, or shorten the piece.' }),
    });
  },
});
