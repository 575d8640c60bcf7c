import type { Dropped, Happening } from '../../../core/standin/played';
import { count } from '../../../core/target/words';
import { defineScene } from '../scene';
import { seatNamed, seatsIn } from '../seats';
import { Timeline } from '../timeline';

interface State {
  readonly us: number;
  readonly seen: readonly Happening[];
  readonly now: ReadonlyMap<string, number>;
  readonly dropped: readonly Dropped[];
}
/** Half a turn of what is seen, in microseconds. */
const HALF_US = 4_000_000;

/** A pinned barrel turns under its combs: pins come up from below and are struck at the top. */
export const barrel = defineScene<State>({
  id: 'barrel',
  says: 'A pinned barrel turns; its seam comes by with each round.',
  load(played, target) {
    const line = new Timeline(played);
    const seats = seatsIn(line.events, target).slice(0, 16);
    return {
      at(us) {
        const now = new Map<string, number>();
        for (const e of line.sounding(us)) now.set(e.seat, (now.get(e.seat) ?? 0) + 1);
        return {
          us,
          seen: line.within(us - HALF_US / 4, us + HALF_US),
          now,
          dropped: line.justDropped(us),
        };
      },
      draw(pen, { us, seen, now, dropped }) {
        const { w, h, colour } = pen;
        const left = 132;
        const [top, bottom] = [58, h - 40];
        const wide = w - left - 26;
        const step = wide / Math.max(1, seats.length);
        const middle = (top + bottom) / 2;
        const radius = (bottom - top) / 2;
        // What is struck stands at the upper edge; what comes is below, foreshortened.
        const y = (at: number) => middle - Math.cos(((at - us) / HALF_US) * Math.PI) * radius;
        pen.rect(
          left,
          top,
          wide,
          bottom - top,
          { fill: colour.band, stroke: colour.ink, width: 2 },
          10,
        );
        pen.line([[left - 26, middle], [left, middle]], { stroke: colour.ink, width: 5 }); // prettier-ignore
        pen.line([[left + wide, middle], [left + wide + 22, middle]], { stroke: colour.ink, width: 5 }); // prettier-ignore
        for (let i = 1; i < seats.length; i++)
          pen.line([[left + i * step, top], [left + i * step, bottom]], { stroke: colour.line, width: 1 }); // prettier-ignore
        for (const seam of [0, line.lengthUs])
          if (seam > us - HALF_US / 4 && seam < us + HALF_US)
            pen.line([[left, y(seam)], [left + wide, y(seam)]], { stroke: colour.lamp, width: 2, dash: [6, 4] }); // prettier-ignore
        for (const e of seen) {
          const i = seats.indexOf(e.seat);
          if (i < 0 || e.atUs < us) continue;
          const spread = ((e.key % 24) / 24 - 0.5) * step * 0.7;
          const flat = Math.max(1.5, 4 * Math.sin(((e.atUs - us) / HALF_US) * Math.PI));
          pen.rect(
            left + (i + 0.5) * step + spread - 2.5,
            y(e.atUs) - flat / 2,
            5,
            flat,
            { fill: colour.ink },
            2,
          );
        }
        seats.forEach((seat, i) => {
          const x = left + (i + 0.5) * step;
          const on = now.has(seat);
          pen.line([[x - step * 0.36, top - 6], [x + step * 0.36, top - 6]], { stroke: on ? colour.lamp : colour.ink2, width: on ? 5 : 3 }); // prettier-ignore
          if (on) pen.line([[x, top - 10], [x, top - 20]], { stroke: colour.lamp, width: 2 }); // prettier-ignore
          pen.words(seatNamed(target, seat), x, 22 + (i % 2) * 14, {
            size: 12,
            align: 'center',
            room: step * 1.9,
            colour: on ? colour.ink : colour.ink2,
            weight: on ? 600 : 400,
          });
          if (dropped.some((d) => d.seat === seat)) pen.cross(x, top - 8, 6);
        });
        const sounding = [...now.values()].reduce((a, b) => a + b, 0);
        pen.words(count(sounding, 'note'), 14, middle - 10, { size: 16, weight: 600 });
        pen.words('sounding', 14, middle + 10, { colour: colour.ink2 });
        const [gone] = dropped.slice(-1);
        pen.words(
          gone
            ? `${seatNamed(target, gone.seat)}: ${gone.because}`
            : `A round lasts ${(line.lengthUs / 1_000_000).toFixed(3)} s`,
          left,
          h - 18,
          { colour: gone ? colour.wax : colour.ink2, room: wide },
        );
      },
      describe: ({ now }) =>
        now.size === 0
          ? 'Nothing sounds.'
          : `Sounding: ${[...now].map(([s, n]) => `${seatNamed(target, s)} ${n}`).join(', ')}.`,
    };
  },
});
