import { defineRule, mend, says } from '../define-rule';
import { asDelivered } from '../../reading/as-delivered';
import { endTickOf, ticksPerQuarterOf } from '../../score/score';
import { fileOf } from '../../score/to-file';
import { LONGEST_WAIT } from '../../smf/file';
import { setPpq } from '../../steps/timing/set-ppq';
import { ppqAllowed } from './ppq';

/** The longest wait between two events of a track, and where it begins. */
function longestOf(piece: Parameters<typeof fileOf>[0]): { ticks: number; from: number } {
  let longest = { ticks: 0, from: 0 };
  for (const { tick, count } of fileOf(piece).tracks)
    for (let i = 0, last = 0; i < count; last = tick[i++]!)
      if (tick[i]! - last > longest.ticks) longest = { ticks: tick[i]! - last, from: last };
  return longest;
}

export const longestWait = defineRule({
  id: 'longest-wait',
  summary: 'Waits between two events that a Standard MIDI File can hold.',
  story: {
    why: 'A long show at a fine PPQ has a track that is silent for an hour and more.',
    mends: 'The same music is written with fewer ticks to a quarter note.',
  },
  block: null,
  phase: 'tempo and meter',
  codes: {
    'wait-long': says<{ ticks: string; most: string }>({
      title: 'Wait of over 268,435,455 ticks',
      wrong: (f) => `A track waits ${f.ticks} ticks between two events; a file holds ${f.most}.`,
      then: (_, w) => `${w.Target} refuses the file: the number takes more than four bytes.`,
    }),
  },
  check({ piece, target, report }) {
    // Most pieces are shorter in all than one wait may be.
    if (endTickOf(piece.score) <= LONGEST_WAIT) return;
    const { ticks, from } = longestOf(asDelivered(piece, target));
    if (ticks <= LONGEST_WAIT) return;
    const own = ticksPerQuarterOf(piece.score.division);
    const most = Math.floor((own * LONGEST_WAIT) / ticks);
    let to = piece.score.division.kind === 'ppq' ? most : 0;
    while (to > 0 && !ppqAllowed(target.file?.ppq, to)) to--;
    report({
      code: 'wait-long',
      spans: [{ fromTick: from, toTick: from + ticks }],
      data: { ticks: ticks.toLocaleString('en-GB'), most: LONGEST_WAIT.toLocaleString('en-GB') },
      measured: { value: ticks, unit: 'ticks' },
      allowed: { most: LONGEST_WAIT },
      ...(to > 0
        ? { mends: [mend(`Write PPQ ${to}`, setPpq, { ticksPerQuarter: to })] }
        : { noMend: 'Split the piece, or bring the source in with fewer ticks.' }),
    });
  },
});
