import type { Dropped, Happening } from '../../../core/standin/played';
import { noteName, plain } from '../../../core/target/words';
import { defineScene } from '../scene';
import { seatNamed, seatsIn } from '../seats';
import { Timeline } from '../timeline';

interface State {
  readonly us: number;
  readonly blowing: ReadonlyMap<string, Happening>;
  /** By seat: how long it was open in what was just heard, in milliseconds. */
  readonly open: ReadonlyMap<string, number>;
  readonly dropped: readonly Dropped[];
}

/** Before and behind the moment, of the recording. */
const ALONG_US = 4_000_000;

/** Horns on a quay with their steam: how long each was open lately, against what its boiler gives. */
export const horns = defineScene<State>({
  id: 'horns',
  says: 'Steam horns on a quay; how much steam each has used lately.',
  load(played, target) {
    const line = new Timeline(played);
    const seats = seatsIn(line.events, target).slice(0, 8);
    const windowUs = (target.spacing?.openInMs ?? 2000) * 1000;
    const most = target.spacing?.mostOpenMs ?? windowUs / 1000;
    const openOf = (ms = 0) => `${plain(Math.round(ms))} of ${plain(Math.round(most))} ms`;
    return {
      at(us) {
        const open = new Map<string, number>();
        for (const e of line.across(us - windowUs, us)) {
          const from = Math.max(us - windowUs, e.atUs);
          const to = Math.min(us, e.atUs + (e.lengthUs ?? 0));
          open.set(e.seat, (open.get(e.seat) ?? 0) + Math.max(0, to - from) / 1000);
        }
        const blowing = new Map(line.sounding(us).map((e) => [e.seat, e]));
        return { us, blowing, open, dropped: line.justDropped(us) };
      },
      draw(pen, { us, blowing, open, dropped }) {
        const { w, h, colour } = pen;
        const quay = h * 0.7;
        pen.rect(0, quay, w, 8, { fill: colour.band, stroke: colour.ink, width: 1 });
        // Along the quay lies what they are played beside; else the water.
        const room = h - quay - 58;
        if (pen.hasWave && room > 16) {
          pen.wave(12, quay + 52, w - 24, room, us - ALONG_US, us + ALONG_US);
          pen.line([[w / 2, quay + 50], [w / 2, h - 4]], { stroke: colour.lamp, width: 1.5 }); // prettier-ignore
        }
        for (let k = 0; k < 3 && !pen.hasWave; k++)
          pen.line([[12 + k * 20, quay + 24 + k * 10], [w - 12 - k * 20, quay + 24 + k * 10]], { stroke: colour.line }); // prettier-ignore
        const step = w / (seats.length + 0.4);
        seats.forEach((seat, i) => {
          const x = step * (i + 0.5);
          const now = blowing.get(seat);
          const used = Math.min(1.2, (open.get(seat) ?? 0) / most);
          // The boiler: what is left of its steam.
          pen.rect(x - 42, quay - 66, 34, 66, { fill: colour.page, stroke: colour.ink }, 6);
          const left = Math.max(0, 1 - used);
          pen.rect(
            x - 39,
            quay - 3 - 60 * left,
            28,
            60 * left,
            { fill: left < 0.2 ? colour.wax : colour.faint },
            4,
          );
          pen.line([[x - 8, quay - 40], [x + 10, quay - 40], [x + 10, quay - 96]], { stroke: colour.ink, width: 4 }); // prettier-ignore
          pen.line(
            [[x + 3, quay - 92], [x + 17, quay - 92], [x + 34, quay - 128], [x - 14, quay - 128]], // prettier-ignore
            { fill: now ? colour.gold : colour.page, stroke: colour.ink, width: 2 },
            true,
          );
          if (now)
            for (let k = 0; k < 4; k++) {
              const rise = pen.still ? k * 14 : ((us / 9000 + k * 16) % 64) + 4;
              pen.circle(x + 10 + Math.sin(rise / 9 + k) * 7, quay - 134 - rise, 6 + rise / 7, {
                stroke: colour.edge,
                width: 1.5,
              });
            }
          const gone = dropped.filter((d) => d.seat === seat).at(-1);
          if (gone) pen.cross(x + 10, quay - 110, 12);
          pen.words(seatNamed(target, seat), x, quay + 20, { weight: 600, align: 'center' });
          pen.words(
            gone ? gone.because : now ? noteName(now.key) : openOf(open.get(seat)),
            x,
            quay + 38,
            { align: 'center', colour: gone ? colour.wax : colour.ink2, room: step - 10 },
          );
        });
      },
      describe: ({ blowing, open }) =>
        seats
          .map(
            (s) =>
              `${seatNamed(target, s)} ${blowing.has(s) ? 'blows' : 'is silent'}, open ${openOf(open.get(s))}`,
          )
          .join('; ') + '.',
    };
  },
});
