import type { Dropped, Happening } from '../../../core/standin/played';
import { noteName } from '../../../core/target/words';
import { defineScene, inSeconds } from '../scene';
import { keysOf } from '../seats';
import { Timeline } from '../timeline';

interface State {
  readonly us: number;
  readonly lit: ReadonlySet<number>;
  readonly dropped: readonly Dropped[];
  readonly last: Happening | null;
  readonly next: Happening | null;
}

/** Lanterns on a rail over the water: each is lit for the length of its cue. */
export const lanterns = defineScene<State>({
  id: 'lanterns',
  says: 'A rail of lanterns; each is lit for as long as its cue.',
  load(played, target) {
    const line = new Timeline(played);
    const keys = keysOf(line.events, target);
    const cue = (key: number) => `cue ${keys.indexOf(key) + 1} (${noteName(key)})`;
    return {
      at: (us) => ({
        us,
        lit: new Set(line.sounding(us).map((e) => e.key)),
        dropped: line.justDropped(us),
        last: line.last(us),
        next: line.next(us),
      }),
      draw(pen, { us, lit, dropped, last, next }) {
        const { w, h, colour } = pen;
        const left = 36;
        const step = (w - 2 * left) / Math.max(1, keys.length - 1);
        const rail = (x: number) =>
          h * 0.26 + Math.sin(((x - left) / (w - 2 * left)) * Math.PI) * 26;
        const points = Array.from({ length: 60 }, (_, i): [number, number] => {
          const x = left + ((w - 2 * left) * i) / 59;
          return [x, rail(x)];
        });
        pen.line(points, { stroke: colour.ink, width: 2.5 });
        for (const x of [left, w / 2, w - left])
          pen.line([[x, rail(x)], [x, h - 78]], { stroke: colour.edge, width: 1.5 }); // prettier-ignore
        const water = h - 78;
        for (let k = 0; k < 3; k++)
          pen.line([[20 + k * 14, water + k * 9], [w - 20 - k * 14, water + k * 9]], { stroke: colour.line }); // prettier-ignore
        const size = Math.max(4, Math.min(12, step * 0.36));
        keys.forEach((key, i) => {
          const x = left + i * step;
          const top = rail(x);
          const y = top + 14 + size * 1.6;
          const on = lit.has(key);
          pen.line([[x, top], [x, y - size * 1.3]], { stroke: colour.ink2, width: 1 }); // prettier-ignore
          pen.rect(
            x - size * 0.8,
            y - size * 1.3,
            size * 1.6,
            size * 2.6,
            { fill: on ? colour.gold : colour.page, stroke: colour.ink, width: on ? 2 : 1 },
            size * 0.5,
          );
          if (on) {
            for (const turn of [-0.9, -0.3, 0.3, 0.9]) {
              const [sin, cos] = [Math.sin(turn), Math.cos(turn)];
              pen.line([[x + sin * size * 2, y + cos * size * 2], [x + sin * size * 3, y + cos * size * 3]], { stroke: colour.lamp, width: 1.5 }); // prettier-ignore
            }
            pen.line([[x - size, water + 8], [x + size, water + 8]], { stroke: colour.lamp, width: 2 }); // prettier-ignore
          }
          if (dropped.some((d) => d.key === key)) pen.cross(x, y, size * 1.1);
        });
        const [gone] = dropped.slice(-1);
        // In a narrow window what was dropped takes the place of what came last.
        const narrow = gone !== undefined && w < 620;
        const came = last ? `Last: ${cue(last.key)}` : 'At rest';
        if (!narrow) pen.words(came, 36, h - 40, { weight: 600 });
        pen.words(
          next ? `Next: ${cue(next.key)} in ${inSeconds(next.atUs - us)}` : 'No cue follows',
          36,
          h - 20,
          { colour: colour.ink2 },
        );
        if (gone)
          pen.words(
            `${cue(gone.key)}: ${gone.because}`,
            narrow ? 36 : w - 36,
            h - (narrow ? 40 : 24),
            {
              align: narrow ? 'left' : 'right',
              colour: colour.wax,
              room: narrow ? w - 72 : w / 2,
            },
          );
      },
      describe: ({ us, lit, next }) =>
        `${lit.size === 0 ? 'No lantern is lit' : `Lit: ${[...lit].map(cue).join(', ')}`}. ${next ? `Next ${cue(next.key)} in ${inSeconds(next.atUs - us)}.` : 'No cue follows.'}`,
    };
  },
});
