import { asDelivered } from '../../reading/as-delivered';
import { defineRule, mend, mendBy, says } from '../define-rule';
import { dropDuplicates } from '../../steps/strip';
import { fileOf } from '../../score/to-file';
import type { Piece } from '../../score/piece';
import { isIn } from '../../score/score';
import type { Mend } from '../finding';
import { callStep, everything } from '../../steps/define-step';
import type { Target } from '../../target/schema';
import { leaveOut } from '../../steps/routing';
import { repeatsOf } from '../../reading/news';
import { keepStrongest } from '../../steps/spacing/keep-strongest';
import { count } from '../../target/words';
import { thinner } from './thinner';
import { writeSmf } from '../../smf/write';

/** A note takes from four bytes, in running status, to a dozen. SMF 1.0, "Track chunks". */
const [FEWEST_BYTES, MOST_BYTES] = [4, 12];
const LOOKS = 6;

/** How many of the weakest notes have to go; found by writing it, as near as a few looks come. */
function enoughWithout(
  piece: Piece,
  target: Target,
  most: number,
  total: number,
  over: number,
): number {
  let [few, many] = [
    Math.floor(over / MOST_BYTES),
    Math.min(total, Math.ceil(over / FEWEST_BYTES)),
  ];
  for (let look = 0; look < LOOKS && many - few > 1; look++) {
    const middle = (few + many) >> 1;
    const kept = keepStrongest.apply({ ...everything(piece), params: { most: total - middle } });
    const fits = 'piece' in kept && bytesOf(kept.piece, target) <= most;
    if (fits) many = middle;
    else few = middle;
  }
  return many;
}

const bytesOf = (piece: Piece, target: Target): number =>
  writeSmf(fileOf(asDelivered(piece, target))).length;

export const fileSize = defineRule({
  id: 'file-size',
  summary: 'The size of the file as it is written.',
  story: {
    why: 'Bends and controllers outnumber the notes.',
    mends:
      'Events that repeat are dropped, or bends and controllers are thinned as little as makes room. Else the weakest notes go, or a part that makes room enough.',
  },
  block: 'file',
  reads: ['mostBytes'],
  phase: 'size',
  codes: {
    'file-large': says<{ bytes: string; most: string }>({
      title: 'File too large',
      named: (f) => `${f.bytes} bytes, holds ${f.most}`,
      wrong: (f) => `The file takes ${f.bytes} bytes.`,
      then: (f, w) => `${w.Target} has room for ${f.most} and cuts off the rest.`,
    }),
  },
  check({ block, target, piece, curves, report }) {
    const most = block.mostBytes;
    if (most === undefined) return;
    const bytes = bytesOf(piece, target);
    if (bytes <= most) return;
    const parts = piece.score.parts.filter((p) => isIn(p) && p.notes.count > 0);
    const fits = (p: Piece) => bytesOf(p, target) <= most;
    const noRepeats = { notes: false, events: true };
    const without = dropDuplicates.apply({ ...everything(piece), params: noRepeats });
    const repeats = repeatsOf(piece.score).size > 0 && 'piece' in without && fits(without.piece);
    // A note takes about eight bytes: which part would be enough on its own.
    const over = bytes - most;
    const enough = parts
      .filter((p) => (p.notes.count * 2 + p.events.count) * 4 >= over)
      .sort((a, b) => a.notes.count - b.notes.count)[0];
    const total = parts.reduce((n, p) => n + p.notes.count, 0);
    const weakest = enoughWithout(piece, target, most, total, over);
    const thin = thinner(piece, curves(), fits);
    const thinMend = (): Mend | null => {
      if (!thin || thin.fits) return thin && mendBy(thin.title, ...thin.calls);
      // Not enough by itself: notes go for the rest.
      const stillOver = bytesOf(thin.piece, target) - most;
      if (stillOver >= over) return null;
      const notes = enoughWithout(thin.piece, target, most, total, stillOver);
      if (notes >= Math.min(weakest, total)) return null;
      return mendBy(
        `${thin.title}, and leave out the ${count(notes, 'weakest note')}`,
        ...thin.calls,
        callStep(keepStrongest, { most: total - notes }),
      );
    };
    const thinning = thinMend();
    report({
      code: 'file-large',
      data: { bytes: bytes.toLocaleString('en-GB'), most: most.toLocaleString('en-GB') },
      measured: { value: bytes, unit: 'bytes' },
      allowed: { mostBytes: most },
      mends: [
        ...(repeats ? [mend('Drop events that repeat', dropDuplicates, noRepeats)] : []),
        ...(thinning ? [thinning] : []),
        ...(weakest > 0 && weakest < total
          ? [
              mend(`Leave out the ${count(weakest, 'weakest note')}`, keepStrongest, {
                most: total - weakest,
              }),
            ]
          : []),
        ...(enough ? [mend(`Leave “${enough.name}” out`, leaveOut, {}, [enough])] : []),
      ],
      ...(repeats || thinning || enough || weakest < total
        ? {}
        : { noMend: 'Leave several parts out, or shorten the piece.' }),
    });
  },
});
