import type { Dropped, Happening } from '../../../core/standin/played';
import { noteName } from '../../../core/target/words';
import type { Target } from '../../../core/target/schema';
import { defineScene } from '../scene';
import { keysOf, seatNamed, seatsIn } from '../seats';
import { Timeline } from '../timeline';

interface State {
  readonly us: number;
  readonly seen: readonly Happening[];
  readonly now: readonly Happening[];
  readonly dropped: readonly Dropped[];
}
const BEHIND_US = 1_200_000;
const AHEAD_US = 5_500_000;

const handOf = (target: Target, id: string) => {
  const seat = target.seats.find((s) => s.id === id);
  return seat && 'hand' in seat ? (seat.hand ?? null) : null;
};

/** A scroll past a reading edge: one hand filled, the other outlined, the reach of each bracketed. */
export const scroll = defineScene<State>({
  id: 'scroll',
  says: 'A scroll past the reading edge, hands filled and outlined, their reach in brackets.',
  load(played, target) {
    const line = new Timeline(played);
    const keys = keysOf(line.events, target);
    const seats = seatsIn(line.events, target);
    const [low, high] = [keys[0]! - 1, keys.at(-1)! + 1];
    const outlined = (seat: string) => {
      const hand = handOf(target, seat);
      return hand === null ? seats.indexOf(seat) % 2 === 1 : hand === 'right';
    };
    return {
      at: (us) => ({
        us,
        seen: line.across(us - BEHIND_US, us + AHEAD_US),
        now: line.sounding(us),
        dropped: line.justDropped(us),
      }),
      draw(pen, { us, seen, now, dropped }) {
        const { w, h, colour } = pen;
        const [top, bottom] = [18, h - 46];
        const left = 46;
        const x = (at: number) =>
          left + ((at - us + BEHIND_US) / (BEHIND_US + AHEAD_US)) * (w - left - 14);
        const y = (key: number) => bottom - ((key - low) / (high - low)) * (bottom - top);
        pen.rect(
          left,
          top - 6,
          w - left - 14,
          bottom - top + 12,
          { fill: colour.band, stroke: colour.edge, width: 1 },
          3,
        );
        for (let key = Math.ceil(low / 12) * 12; key <= high; key += 12) {
          pen.line([[left, y(key)], [w - 14, y(key)]], { stroke: colour.line, width: 1 }); // prettier-ignore
          pen.words(noteName(key), left - 8, y(key), {
            size: 12,
            align: 'right',
            colour: colour.ink2,
          });
        }
        const tall = Math.max(3, Math.min(10, ((bottom - top) / (high - low)) * 0.8));
        for (const e of seen) {
          const from = Math.max(left, x(e.atUs));
          const long = Math.max(4, Math.min(w - 14, x(e.atUs + (e.lengthUs ?? 0))) - from - 1);
          const look = outlined(e.seat)
            ? { fill: colour.page, stroke: colour.ink, width: 1.5 }
            : { fill: colour.ink };
          pen.rect(from, y(e.key) - tall / 2, long, tall, look, 2);
        }
        const edge = x(us);
        pen.line([[edge, top - 10], [edge, bottom + 10]], { stroke: colour.lamp, width: 2.5 }); // prettier-ignore
        for (const right of [false, true]) {
          const held = now.filter((e) => outlined(e.seat) === right).map((e) => e.key);
          if (held.length === 0) continue;
          const [a, b] = [y(Math.max(...held)) - 4, y(Math.min(...held)) + 4];
          const bx = right ? edge + 12 : edge - 12;
          const tip = right ? -5 : 5;
          pen.line([[bx + tip, a], [bx, a], [bx, b], [bx + tip, b]], { stroke: colour.lamp, width: 2 }); // prettier-ignore
        }
        for (const d of dropped) if (d.key > low && d.key < high) pen.cross(edge, y(d.key), 7);
        const said = seats
          .slice(0, 4)
          .map((s) => `${seatNamed(target, s)} ${outlined(s) ? 'outlined' : 'filled'}`);
        const [gone] = dropped.slice(-1);
        pen.words(gone ? `${noteName(gone.key)}: ${gone.because}` : said.join(', '), left, h - 20, {
          colour: gone ? colour.wax : colour.ink2,
          room: w - 70,
        });
      },
      describe: ({ now }) =>
        now.length === 0
          ? 'No key is held.'
          : `Held: ${now.map((e) => `${noteName(e.key)} (${seatNamed(target, e.seat)})`).join(', ')}.`,
    };
  },
});
