import { defineRule, mend, says, spanAt } from '../define-rule';
import { deliveredEnd } from '../../reading/ends';
import { frameRateOf } from '../../reading/frames';
import { roundMs } from '../../score/inventory';
import { sayFact } from '../../target/facts';
import { count, plain } from '../../target/words';
import { metadata } from '../../steps/facts';
import { setLength } from '../../steps/length';

const set = (title: string, params: Readonly<Record<string, string>>) =>
  mend(title, metadata, params);

const sayShift = (by: number): string =>
  by === 0
    ? 'Do not shift the start'
    : `Shift the start ${count(Math.abs(by), 'frame')} ${by > 0 ? 'later' : 'earlier'}`;

export const wholeFrames = defineRule({
  id: 'whole-frames',
  summary: 'Frame rate, frame shift and, where it goes round again, a whole number of frames.',
  story: {
    why: 'Musical time and frames seldom meet.',
    mends:
      'The end is filled up to the next whole frame; rate, shift and ending as the target has them.',
  },
  block: 'frames',
  phase: 'end',
  codes: {
    'frame-rate': says<{ rate: number; allowed: string }>({
      title: 'Frame rate not supported',
      wrong: (f) => `${f.rate} frames a second are asked for.`,
      then: (f, w) => `${w.Target} runs at ${f.allowed}.`,
    }),
    'frame-shift': says<{ shift: number; lowest: number; highest: number }>({
      title: 'Frame shift too large',
      wrong: (f) => `The start is shifted by ${f.shift} frames.`,
      then: (f, w) => `${w.Target} takes ${f.lowest} to ${f.highest}.`,
    }),
    'ending-unknown': says<{ ending: string; allowed: string }>({
      title: 'Ending not supported',
      wrong: (f) => `“${f.ending}” is asked for at the end.`,
      then: (f, w) => `${w.Target} knows ${f.allowed}.`,
    }),
    'frames-drift': says<{ frames: string; drift: string }>({
      title: 'Loop length not in whole frames',
      wrong: (f) => `A pass lasts ${f.frames} frames.`,
      then: (f) => `Round again it drifts by ${f.drift} ms with each pass.`,
    }),
  },
  check({ block, piece, maps, report }) {
    const told = piece.delivery.metadata ?? {};
    const rate = frameRateOf(piece);
    if (rate !== null && !block.perSecond.includes(rate))
      report({
        code: 'frame-rate',
        data: { rate, allowed: block.perSecond.join(', ') },
        measured: { value: rate, unit: 'frames a second' },
        allowed: { perSecond: block.perSecond },
        mends: [...block.perSecond]
          .sort((a, b) => Math.abs(a - rate) - Math.abs(b - rate))
          .slice(0, 4)
          .map((to) => set(`Use ${to} frames a second`, { frameRate: String(to) })),
      });
    const shift = Number(told.frameShift ?? '0');
    const { shiftLowest = -Infinity, shiftHighest = Infinity } = block;
    const near = Math.min(shiftHighest, Math.max(shiftLowest, shift));
    if (shift < shiftLowest || shift > shiftHighest)
      report({
        code: 'frame-shift',
        data: { shift, lowest: shiftLowest, highest: shiftHighest },
        measured: { value: shift, unit: 'frames' },
        allowed: { shiftLowest, shiftHighest },
        mends: [set(sayShift(near), { frameShift: String(near) })],
      });
    const { ending } = told;
    if (ending !== undefined && !(block.endings as readonly string[]).includes(ending))
      report({
        code: 'ending-unknown',
        data: {
          ending: sayFact('ending', ending),
          allowed: block.endings.map((e) => `“${sayFact('ending', e)}”`).join(' and '),
        },
        allowed: { endings: block.endings },
        mends: block.endings.map((to) =>
          set(`Use “${sayFact('ending', to)}” as the ending`, { ending: to }),
        ),
      });
    if (rate === null || ending !== 'round-again') return;
    const { clock } = maps;
    const end = deliveredEnd(piece);
    if (end === 0) return;
    const ms = clock.msAt(end);
    const frames = (ms * rate) / 1000;
    const drift = ((Math.round(frames) - frames) * 1000) / rate;
    // Half a tick is as near as a file can end.
    const tickMs = clock.msAt(end) - clock.msAt(Math.max(0, end - 1));
    if (Math.abs(drift) <= tickMs / 2 + 1e-6) return;
    const toMs = roundMs((Math.ceil(frames) * 1000) / rate);
    report({
      code: 'frames-drift',
      spans: [spanAt(Math.max(0, end - 1))],
      data: { frames: plain(frames), drift: plain(Math.abs(drift)) },
      measured: { value: Math.round(frames * 1000) / 1000, unit: 'frames' },
      allowed: { wholeFrames: true },
      mends: [mend(`Fill it up to ${Math.ceil(frames)} frames`, setLength, { toMs })],
    });
  },
});
