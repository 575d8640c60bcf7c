import type { Dropped, Happening } from '../../../core/standin/played';
import { takesRungs } from '../hands/lanes';
import { keyCap, sayError } from '../hands/drawn';
import { StrikeHands } from '../hands/strikes';
import { defineScene } from '../scene';
import { laneSeat, seatNamed, seatsIn } from '../seats';
import { Timeline } from '../timeline';

interface State {
  readonly us: number;
  readonly coming: readonly Happening[];
  readonly struck: readonly Happening[];
  readonly dropped: readonly Dropped[];
}
const AHEAD_US = 3_000_000;

/** Strokes climb to a rail; the rungs of a part stand side by side, so that they can be compared. */
export const rungs = defineScene<State>({
  id: 'rungs',
  says: 'Strokes climb to the rail; all rungs side by side.',
  takes: takesRungs,
  load(played, target) {
    const line = new Timeline(played, ['strike']);
    const playing = new Set(line.events.map((e) => e.seat));
    const playable = seatsIn(line.events, target).filter((s) => playing.has(s));
    const lanesOf = (id: string) => laneSeat(target, id)?.laneNotes.length ?? 4;
    return {
      at: (us) => ({
        us,
        coming: line.across(us, us + AHEAD_US),
        struck: line.sounding(us),
        dropped: line.justDropped(us),
      }),
      draw(pen, { us, coming, struck, dropped }, hands) {
        const { w, h, colour } = pen;
        const [rail, foot] = [44, h - 36];
        // In hand is one rung: it has the room of all.
        const mine = hands?.hands instanceof StrikeHands ? hands.hands.doings : null;
        const seats = mine ? playable.filter((s) => s === mine[0]?.lanes[0]?.seat) : playable;
        const width = seats.reduce((sum, s) => sum + lanesOf(s) + 1, 0);
        const lane = Math.min(90, (w - 48) / Math.max(1, width));
        const from = new Map<string, number>();
        let x = mine ? (w - width * lane) / 2 + lane / 2 : 24;
        for (const seat of seats) {
          from.set(seat, x + lane / 2);
          x += (lanesOf(seat) + 1) * lane;
        }
        const at = (seat: string, key: number) => from.get(seat)! + (key - 0.5) * lane;
        const y = (us2: number) => rail + ((foot - rail) * Math.max(0, us2 - us)) / AHEAD_US;
        let group = '';
        seats.forEach((seat) => {
          const left = from.get(seat)!;
          const room = lanesOf(seat) * lane;
          pen.rect(left, rail, room, foot - rail, { stroke: colour.line, width: 1 });
          // The part once, below its rungs; each rung by its number.
          const [part = '', rung = ''] = seatNamed(target, seat).split(/, rung /);
          const small = { size: 12, colour: colour.ink2 };
          pen.words(rung, left + room / 2, foot + 9, { ...small, align: 'center' });
          if (part !== group) pen.words(part, left, h - 9, { ...small, weight: 600 });
          group = part;
        });
        const wide = Math.max(2.5, Math.min(22, lane * 0.74));
        for (const e of coming) {
          if (!from.has(e.seat)) continue;
          const cx = at(e.seat, e.key);
          const top = y(e.atUs);
          const held = e.lengthUs ?? 0;
          if (held > 0)
            pen.rect(cx - wide / 4, top, wide / 2, y(e.atUs + held) - top, { fill: colour.edge });
          const flagged = / /.test(e.text ?? '');
          pen.rect(cx - wide / 2, top - 2.5, wide, 5, {
            fill: flagged ? colour.page : colour.ink,
            stroke: colour.ink,
            width: 1,
          });
        }
        pen.line([[18, rail], [w - 18, rail]], { stroke: colour.ink, width: 3 }); // prettier-ignore
        for (const e of struck)
          if (from.has(e.seat))
            pen.line([[at(e.seat, e.key) - wide / 2, rail - 7], [at(e.seat, e.key) + wide / 2, rail - 7]], { stroke: colour.lamp, width: 4 }); // prettier-ignore
        for (const d of dropped) if (from.has(d.seat)) pen.cross(at(d.seat, d.key), rail - 14, 5);
        if (hands) {
          for (const d of mine ?? [])
            keyCap(pen, at(d.lanes[0]!.seat, d.lanes[0]!.key), rail - 24, hands, d);
          sayError(pen, 74, 60, hands);
        }
        const [gone] = dropped.slice(-1);
        pen.words(gone ? `${seatNamed(target, gone.seat)}: ${gone.because}` : '', 24, 18, {
          colour: colour.wax,
          room: w - 48,
        });
      },
      describe: ({ struck }) =>
        struck.length === 0
          ? 'Nothing is struck.'
          : `Struck on ${[...new Set(struck.map((e) => seatNamed(target, e.seat)))].join(', ')}.`,
    };
  },
});
