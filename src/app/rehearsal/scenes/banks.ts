import type { Dropped, Happening } from '../../../core/standin/played';
import { takesBanks } from '../hands/lanes';
import { keyCap, sayError } from '../hands/drawn';
import { defineScene } from '../scene';
import { laneSeat, seatNamed, seatsIn } from '../seats';
import { Timeline } from '../timeline';

interface State {
  readonly us: number;
  readonly coming: readonly Happening[];
  readonly struck: readonly Happening[];
  readonly dropped: readonly Dropped[];
}
const AHEAD_US = 2_600_000;

/**
 * A channel between two banks: strokes drift from the middle outwards and are struck where they
 * land; what both share lies along the middle.
 */
export const banks = defineScene<State>({
  id: 'banks',
  says: 'Strokes drift from mid-channel to the two banks, where they are struck.',
  takes: takesBanks,
  load(played, target) {
    const line = new Timeline(played, ['strike']);
    const [first = '', second = ''] = seatsIn(line.events, target);
    const lanes = Math.max(
      1,
      ...target.seats.map((s) => (s.kind === 'laneGroup' ? s.laneNotes.length : 0)),
    );
    const notesOf = (id: string) => laneSeat(target, id)?.laneNotes ?? [];
    // A lane whose key both have is one: it lies along the middle.
    const shared = (e: { seat: string; key: number }) => {
      const other = e.seat === first ? second : first;
      return notesOf(other).includes(notesOf(e.seat)[e.key - 1] ?? -1);
    };
    return {
      at: (us) => ({
        us,
        coming: line.across(us, us + AHEAD_US),
        struck: line.sounding(us),
        dropped: line.justDropped(us),
      }),
      draw(pen, { us, coming, struck, dropped }, hands) {
        const { w, h, colour } = pen;
        const bank = 74;
        const [top, bottom] = [34, h - 42];
        const middle = w / 2;
        const y = (key: number) => top + ((key - 0.5) * (bottom - top - 26)) / lanes;
        const course = bottom - 14;
        const tall = Math.max(7, Math.min(16, ((bottom - top) / lanes) * 0.46));
        for (const x of [bank, w - bank])
          pen.line([[x, top - 8], [x, bottom + 6]], { stroke: colour.ink, width: 2.5 }); // prettier-ignore
        pen.line([[middle, top - 8], [middle, bottom - 26]], { stroke: colour.line, dash: [3, 5] }); // prettier-ignore
        for (let lane = 1; lane <= lanes; lane++)
          pen.line([[bank, y(lane)], [w - bank, y(lane)]], { stroke: colour.beat, width: 1 }); // prettier-ignore
        pen.line([[bank, course], [w - bank, course]], { stroke: colour.edge, width: 1 }); // prettier-ignore
        const out = (e: { seat: string; atUs: number }, at = e.atUs) => {
          const share = Math.max(0, (at - us) / AHEAD_US);
          return e.seat === first
            ? bank + (middle - bank) * share
            : w - bank - (middle - bank) * share;
        };
        for (const e of coming) {
          const own = !shared(e);
          const x = out(e);
          const end = out(e, e.atUs + (e.lengthUs ?? 0));
          const row = own ? y(e.key) : course;
          const look =
            e.seat === first ? { fill: colour.ink } : { fill: colour.page, stroke: colour.ink };
          if ((e.lengthUs ?? 0) > 0)
            pen.rect(Math.min(x, end), row - 2.5, Math.abs(end - x), 5, { fill: colour.edge });
          pen.rect(x - 4, row - tall / 2, 8, tall, look, 2);
        }
        for (const e of struck) {
          const x = e.seat === first ? bank : w - bank;
          const row = shared(e) ? course : y(e.key);
          pen.circle(x, row, tall * 0.9, { stroke: colour.lamp, width: 2.5 });
        }
        for (const d of dropped)
          pen.cross(d.seat === first ? bank : w - bank, y(Math.max(1, d.key)), 7);
        pen.words(seatNamed(target, first), bank - 12, top - 20, { weight: 600, align: 'right' });
        pen.words(seatNamed(target, second), w - bank + 12, top - 20, { weight: 600 });
        if (hands) {
          for (const d of hands.hands.doings) {
            const [seat = '', key = '1'] = d.id.split(' ');
            const own = !shared({ seat, key: Number(key) });
            const at = seat === first ? bank - 34 : w - bank + 34;
            keyCap(pen, own ? at : middle, own ? y(Number(key)) : course, hands, d);
          }
          sayError(pen, middle, 16, hands);
        }
        const [gone] = dropped.slice(-1);
        pen.words(gone ? gone.because : '', middle, h - 16, {
          align: 'center',
          colour: colour.wax,
        });
      },
      describe: ({ struck }) =>
        struck.length === 0
          ? 'Nothing is struck.'
          : `Struck: ${struck.map((e) => `${seatNamed(target, e.seat)}, lane ${e.key}`).join('; ')}.`,
    };
  },
});
