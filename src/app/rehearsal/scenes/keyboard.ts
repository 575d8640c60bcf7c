import type { Dropped, Happening } from '../../../core/standin/played';
import { count, noteName } from '../../../core/target/words';
import { defineScene } from '../scene';
import { seatNamed, seatsIn } from '../seats';
import { Timeline } from '../timeline';

interface State {
  readonly us: number;
  readonly now: readonly Happening[];
  readonly dropped: readonly Dropped[];
}
const BLACK = new Set([1, 3, 6, 8, 10]);

/** Channels with what they sound, keys that are down, and what is more than the voices. */
export const keyboard = defineScene<State>({
  id: 'keyboard',
  says: 'Sixteen channels, the keys that are down, the voices in use.',
  load(played, target) {
    const line = new Timeline(played);
    const seats = seatsIn(line.events, target).slice(0, 16);
    const playing = new Set(line.events.map((e) => e.seat));
    const most = target.polyphony?.together ?? null;
    return {
      at: (us) => ({ us, now: line.sounding(us), dropped: line.justDropped(us) }),
      draw(pen, { now, dropped }) {
        const { w, h, colour } = pen;
        const columns = seats.length > 8 ? 2 : 1;
        const rows = Math.ceil(seats.length / columns);
        const area = h - 120;
        const [cw, ch] = [(w - 24) / columns, Math.min(30, area / Math.max(1, rows))];
        seats.forEach((seat, i) => {
          const x = 12 + Math.floor(i / rows) * cw;
          const y = 10 + (i % rows) * ch;
          const mine = now.filter((e) => e.seat === seat);
          pen.words(seatNamed(target, seat), x, y + ch / 2, {
            weight: mine.length > 0 ? 600 : 400,
            room: 110,
            colour: playing.has(seat) ? colour.ink : colour.edge,
          });
          pen.rect(x + 118, y + 3, cw - 140, ch - 7, { stroke: colour.line, width: 1 }, 3);
          if (!playing.has(seat)) pen.hatch(x + 118, y + 3, cw - 140, ch - 7);
          const loud = mine.reduce((m, e) => Math.max(m, Number(e.value ?? 90)), 0) / 127;
          if (loud > 0)
            pen.rect(x + 120, y + 5, (cw - 144) * loud, ch - 11, { fill: colour.gold }, 2);
          pen.words(mine.map((e) => noteName(e.key)).join(' '), x + 126, y + ch / 2, {
            size: 12,
            room: cw - 150,
            colour: loud > 0 ? '#1d2433' : colour.ink,
          });
        });
        const top = h - 92;
        const step = (w - 24) / 88;
        const down = new Map(now.map((e) => [e.key, e]));
        for (let key = 21; key <= 108; key++) {
          const x = 12 + (key - 21) * step;
          const black = BLACK.has(key % 12);
          pen.rect(x, top, step - 0.5, black ? 34 : 52, {
            fill: down.has(key) ? colour.gold : black ? colour.ink2 : colour.page,
            stroke: colour.edge,
            width: 0.75,
          });
        }
        const voices = now.length;
        const [gone] = dropped.slice(-1);
        pen.words(
          gone
            ? `${noteName(gone.key)}: ${gone.because}`
            : most === null
              ? count(voices, 'voice')
              : `${voices} of ${most} voices`,
          12,
          h - 18,
          { colour: gone ? colour.wax : colour.ink2, room: w - 24 },
        );
      },
      describe: ({ now }) =>
        `${count(now.length, 'voice')}${most === null ? '' : ` of ${most}`}${
          now.length === 0
            ? ''
            : `: ${now
                .slice(0, 8)
                .map((e) => `${noteName(e.key)} on ${seatNamed(target, e.seat)}`)
                .join(', ')}`
        }.`,
    };
  },
});
