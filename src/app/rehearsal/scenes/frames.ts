import type { Dropped, Happening } from '../../../core/standin/played';
import { plain } from '../../../core/target/words';
import { defineScene } from '../scene';
import { seatNamed, seatsIn } from '../seats';
import { Timeline } from '../timeline';

interface State {
  readonly us: number;
  readonly frame: number;
  readonly seen: readonly Happening[];
  readonly dropped: readonly Dropped[];
}
const BACK = 6;
const AHEAD = 26;

/** The number of the frame, and the frames around it with what each channel does in them. */
export const frames = defineScene<State>({
  id: 'frames',
  says: 'The frame’s number and the next frames, a row for each channel.',
  load(played, target) {
    const line = new Timeline(played);
    const rate = played.rate ?? target.frames?.perSecond[0] ?? 25;
    const seats = seatsIn(line.events, target).slice(0, 16);
    const usOf = (frame: number) => (frame * 1_000_000) / rate;
    const total = Math.max(1, Math.round((line.lengthUs * rate) / 1_000_000));
    return {
      at(us) {
        const frame = Math.floor((us * rate) / 1_000_000 + 1e-6);
        return {
          us,
          frame,
          seen: line.across(usOf(frame - BACK), usOf(frame + AHEAD)),
          dropped: line.justDropped(us),
        };
      },
      draw(pen, { frame, seen, dropped }) {
        const { w, h, colour } = pen;
        pen.words(plain(frame), w / 2, 44, { size: 46, weight: 600, align: 'center' });
        pen.words(`of ${plain(total)}, ${rate} a second`, w / 2, 76, {
          align: 'center',
          colour: colour.ink2,
        });
        const left = 96;
        const [top, bottom] = [100, h - 44];
        const wide = (w - left - 16) / (BACK + AHEAD);
        const tall = Math.min(34, (bottom - top) / Math.max(1, seats.length));
        const x = (f: number) => left + (f - frame + BACK) * wide;
        for (let f = frame - BACK; f < frame + AHEAD; f++) {
          pen.rect(x(f), top, wide, tall * seats.length, { stroke: colour.line, width: 1 });
          if (f >= total || f < 0) pen.hatch(x(f), top, wide, tall * seats.length);
          if (f % 10 === 0 && f >= 0)
            pen.words(String(f), x(f) + wide / 2, top - 9, {
              size: 12,
              align: 'center',
              colour: colour.ink2,
            });
        }
        pen.rect(x(frame), top - 2, wide, tall * seats.length + 4, {
          stroke: colour.lamp,
          width: 2.5,
        });
        seats.forEach((seat, i) => {
          pen.words(seatNamed(target, seat), 12, top + (i + 0.5) * tall, { room: left - 18 });
          for (const e of seen) {
            if (e.seat !== seat) continue;
            const from = Math.max(frame - BACK, Math.round((e.atUs * rate) / 1_000_000));
            const to = Math.min(
              frame + AHEAD,
              Math.round(((e.atUs + (e.lengthUs ?? 0)) * rate) / 1_000_000),
            );
            const height = (tall - 8) * (0.35 + (0.65 * Number(e.value ?? 100)) / 127);
            pen.rect(
              x(from) + 1,
              top + (i + 1) * tall - 4 - height,
              Math.max(wide - 2, (to - from) * wide - 2),
              height,
              { fill: colour.quill },
            );
          }
        });
        const [gone] = dropped.slice(-1);
        pen.words(gone ? `${seatNamed(target, gone.seat)}: ${gone.because}` : '', left, h - 20, {
          colour: colour.wax,
        });
      },
      describe: ({ us, frame, seen }) => {
        const now = seen.filter((e) => e.atUs <= us && us < e.atUs + (e.lengthUs ?? 0));
        return `Frame ${plain(frame)} of ${plain(total)}. ${now.length === 0 ? 'Nothing is on' : `On: ${now.map((e) => `${seatNamed(target, e.seat)} ${e.key}`).join(', ')}`}.`;
      },
    };
  },
});
