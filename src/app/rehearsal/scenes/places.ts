import type { Dropped, Happening } from '../../../core/standin/played';
import { count } from '../../../core/target/words';
import { defineScene } from '../scene';
import { seatNamed } from '../seats';
import { Timeline } from '../timeline';

interface State {
  readonly us: number;
  readonly now: ReadonlyMap<string, number>;
  readonly dropped: readonly Dropped[];
}

/** Files that are played each for itself: a stone for each, turning once while it lasts. */
export const places = defineScene<State>({
  id: 'places',
  says: 'A stone for each file, its pattern going round in it.',
  load(played) {
    const line = new Timeline(played);
    const byFile = new Map<string, Happening[]>();
    for (const e of line.events) byFile.set(e.file, [...(byFile.get(e.file) ?? []), e]);
    const files = [...byFile.keys()].sort().slice(0, 24);
    const endOf = (file: string) =>
      byFile.get(file)!.reduce((m, e) => Math.max(m, e.atUs + (e.lengthUs ?? 0)), 1);
    const ends = new Map(files.map((f) => [f, files.length === 1 ? line.lengthUs : endOf(f)]));
    return {
      at(us) {
        const now = new Map<string, number>();
        for (const e of line.sounding(us)) now.set(e.file, (now.get(e.file) ?? 0) + 1);
        return { us, now, dropped: line.justDropped(us) };
      },
      draw(pen, { us, now, dropped }) {
        const { w, h, colour } = pen;
        const columns = Math.max(1, Math.min(8, files.length));
        const rows = Math.max(1, Math.ceil(files.length / columns));
        const [cw, ch] = [(w - 24) / columns, (h - 50) / rows];
        const r = Math.max(14, Math.min(cw, ch - 26) * 0.38);
        files.forEach((file, i) => {
          const x = 12 + ((i % columns) + 0.5) * cw;
          const y = 10 + Math.floor(i / columns) * ch + r + 8;
          const end = ends.get(file)!;
          const done = Math.min(1, us / end);
          const on = now.has(file);
          pen.circle(x, y, r, {
            fill: on ? colour.quillWash : colour.band,
            stroke: colour.ink,
            width: on ? 2.5 : 1.5,
          });
          const turn = (share: number) => -Math.PI / 2 + share * Math.PI * 2;
          // What stands in it, round the rim.
          for (const e of byFile.get(file)!.slice(0, 256)) {
            const a = turn(e.atUs / end);
            const inner = r * (0.62 + 0.3 * ((e.key % 24) / 24));
            pen.circle(x + Math.cos(a) * inner, y + Math.sin(a) * inner, 1.8, {
              fill:
                e.atUs <= us && us < e.atUs + Math.max(180_000, e.lengthUs ?? 0)
                  ? colour.wax
                  : colour.ink,
            });
          }
          const a = turn(done);
          pen.line([[x, y], [x + Math.cos(a) * r, y + Math.sin(a) * r]], { stroke: colour.lamp, width: 2 }); // prettier-ignore
          if (dropped.some((d) => d.file === file)) pen.cross(x, y, r * 0.4);
          pen.words(file.replace(/\.[^.]*$/, ''), x, y + r + 13, {
            size: 12,
            align: 'center',
            room: cw - 6,
            weight: on ? 600 : 400,
          });
        });
        const [gone] = dropped.slice(-1);
        pen.words(
          gone ? `${gone.file}: ${gone.because}` : count(files.length, 'file'),
          12,
          h - 18,
          { colour: gone ? colour.wax : colour.ink2, room: w - 24 },
        );
      },
      describe: ({ now }) =>
        now.size === 0
          ? 'Nothing sounds.'
          : `Sounding: ${[...now].map(([f, n]) => `${f} ${n}`).join(', ')}.`,
    };
  },
});

/** One row of a board of slots: which are filled, which sounds, how far it is. */
export const crate = defineScene<State>({
  id: 'crate',
  says: 'The crate’s places; those that sound are lit, each as far as it is.',
  load(played, target) {
    const line = new Timeline(played);
    const seats = target.seats.filter((s) => s.kind === 'file');
    const filled = new Set(line.events.map((e) => e.seat));
    const ends = new Map<string, number>();
    for (const e of line.events)
      ends.set(e.seat, Math.max(ends.get(e.seat) ?? 1, e.atUs + (e.lengthUs ?? 0)));
    return {
      at(us) {
        const now = new Map<string, number>();
        for (const e of line.sounding(us)) now.set(e.seat, (now.get(e.seat) ?? 0) + 1);
        return { us, now, dropped: line.justDropped(us) };
      },
      draw(pen, { us, now, dropped }) {
        const { w, h, colour } = pen;
        const columns = Math.max(4, Math.floor((w - 24) / 86));
        const rows = Math.ceil(seats.length / columns);
        const [cw, ch] = [(w - 24) / columns, Math.min(40, (h - 50) / Math.max(1, rows))];
        seats.forEach((seat, i) => {
          const x = 12 + (i % columns) * cw;
          const y = 10 + Math.floor(i / columns) * ch;
          const on = now.has(seat.id);
          const there = filled.has(seat.id);
          pen.rect(
            x,
            y,
            cw - 6,
            ch - 6,
            {
              fill: on ? colour.gold : there ? colour.band : colour.page,
              stroke: there ? colour.ink : colour.line,
              width: on ? 2 : 1,
            },
            3,
          );
          if (there && us < ends.get(seat.id)!)
            pen.rect(x + 2, y + ch - 11, (cw - 10) * Math.min(1, us / ends.get(seat.id)!), 3, {
              fill: colour.lamp,
            });
          pen.words(seat.name, x + 6, y + ch / 2 - 4, {
            size: 11,
            room: cw - 16,
            colour: on ? '#1d2433' : there ? colour.ink : colour.edge,
          });
          if (dropped.some((d) => d.seat === seat.id)) pen.cross(x + cw / 2, y + ch / 2 - 3, 7);
        });
        const [gone] = dropped.slice(-1);
        pen.words(
          gone
            ? `${seatNamed(target, gone.seat)}: ${gone.because}`
            : `${filled.size} of ${seats.length} places filled`,
          12,
          h - 14,
          { colour: gone ? colour.wax : colour.ink2, room: w - 24 },
        );
      },
      describe: ({ now }) =>
        now.size === 0
          ? 'The crate is silent.'
          : `Sounding: ${[...now.keys()].map((s) => seatNamed(target, s)).join(', ')}.`,
    };
  },
});
