import type { Dropped, Happening } from '../../../core/standin/played';
import { defineScene, inSeconds } from '../scene';
import { Timeline } from '../timeline';
import { Levels } from './levels';

interface State {
  readonly us: number;
  readonly levels: readonly { readonly number: number; readonly level: number }[];
  readonly scene: Happening | null;
  readonly next: Happening | null;
  readonly dropped: readonly Dropped[];
}

const ROW = 6;

/** Windows of a gallery, row over row: each is as bright as its lamp has come to be. */
export const gallery = defineScene<State>({
  id: 'gallery',
  says: 'A gallery of windows; each is as bright as its lamp.',
  load(played, target) {
    const all = new Timeline(played);
    const marks = new Timeline(played, ['marker']);
    const levels = new Levels(played.events);
    const block = target.curves?.list.find((b) => b.slewMs !== undefined) ?? target.curves?.list[0];
    const fullUs = (block?.slewMs ?? 0) * 1000;
    const numbers = block?.controllers ?? levels.keys;
    return {
      at: (us) => ({
        us,
        levels: numbers.map((number) => ({ number, level: levels.reached(number, us, fullUs) })),
        scene: marks.last(us),
        next: marks.next(us),
        dropped: all.justDropped(us),
      }),
      draw(pen, { us, levels: now, scene, next, dropped }) {
        const { w, h, colour } = pen;
        const rows = Math.max(1, Math.ceil(now.length / ROW));
        const [left, top, wide, tall] = [w * 0.06, h * 0.06, w * 0.88, h * 0.76];
        pen.rect(left, top, wide, tall, { fill: colour.band, stroke: colour.edge }, 3);
        const gone = new Set(dropped.map((d) => d.key));
        now.forEach(({ number, level }, i) => {
          const cell = { w: wide / ROW, h: tall / rows };
          const x = left + (i % ROW) * cell.w;
          const y = top + Math.floor(i / ROW) * cell.h;
          const [iw, ih] = [cell.w * 0.56, cell.h * 0.68];
          const [ix, iy] = [x + (cell.w - iw) / 2, y + cell.h * 0.1];
          const share = Math.max(0, Math.min(1, level / 127));
          pen.rect(ix, iy, iw, ih, { fill: colour.page, stroke: colour.ink, width: 1.5 }, 3);
          // As high as it is bright: told by more than the colour.
          if (share > 0)
            pen.rect(ix + 2, iy + 2 + (ih - 4) * (1 - share), iw - 4, (ih - 4) * share, { fill: colour.lamp }); // prettier-ignore
          pen.line([[ix + iw / 2, iy], [ix + iw / 2, iy + ih]], { stroke: colour.ink2, width: 0.75 }); // prettier-ignore
          pen.line([[ix, iy + ih / 2], [ix + iw, iy + ih / 2]], { stroke: colour.ink2, width: 0.75 }); // prettier-ignore
          pen.words(String(number), x + cell.w / 2, y + cell.h * 0.93, {
            align: 'center',
            size: Math.max(8, Math.min(12, cell.h * 0.14)),
            colour: colour.ink2,
          });
          if (gone.has(number)) pen.cross(ix + iw / 2, iy + ih / 2, Math.min(iw, ih) * 0.3);
        });
        pen.words(scene?.text ? scene.text : 'Before the first scene', left, h - 24, { weight: 600, room: wide * 0.45 }); // prettier-ignore
        const [lost] = dropped.slice(-1);
        pen.words(
          lost ? lost.because : next ? `${next.text ?? ''} in ${inSeconds(next.atUs - us)}` : '',
          left + wide,
          h - 24,
          { align: 'right', colour: lost ? colour.wax : colour.ink2, room: wide * 0.5 },
        );
      },
      describe: ({ levels: now, scene }) => {
        const lit = now.flatMap(({ number, level }) =>
          level >= 1 ? [`${number} at ${Math.round(level)}`] : [],
        );
        return `${scene?.text ? `Scene ${scene.text}. ` : ''}${lit.length === 0 ? 'All lamps are dark.' : `Lamps: ${lit.join(', ')}.`}`;
      },
    };
  },
});
