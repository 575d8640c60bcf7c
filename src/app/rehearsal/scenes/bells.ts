import type { Dropped } from '../../../core/standin/played';
import { noteName } from '../../../core/target/words';
import { defineScene } from '../scene';
import { keysOf } from '../seats';
import { Timeline } from '../timeline';

interface State {
  readonly us: number;
  /** By key: microseconds since it was struck, and how hard. */
  readonly struck: ReadonlyMap<number, { readonly since: number; readonly force: number }>;
  readonly dropped: readonly Dropped[];
}

const SWINGS_US = 2_400_000;
/** A bell of own drawing: crown, shoulder, waist, lip. */
const BELL = 'M-2-12h4v3c4 2 5 6 6 12c.6 4 2 6 4 8h-24c2-2 3.400-4 4-8c1-6 2-10 6-12z';

/** Bells on a beam, the low ones large: a bell that is struck swings, and comes to rest. */
export const bells = defineScene<State>({
  id: 'bells',
  says: 'Bells on a beam, swinging when they are struck; what was dropped hangs crossed out.',
  load(played, target) {
    const line = new Timeline(played);
    const keys = keysOf(line.events, target);
    return {
      at(us) {
        const struck = new Map<number, { since: number; force: number }>();
        for (const e of line.within(us - SWINGS_US, us + 1))
          struck.set(e.key, { since: us - e.atUs, force: Number(e.value ?? 90) / 127 });
        return { us, struck, dropped: line.justDropped(us) };
      },
      draw(pen, { struck, dropped }) {
        const { w, h, colour } = pen;
        const left = 40;
        const step = (w - 2 * left) / Math.max(1, keys.length);
        const beam = h * 0.2;
        pen.rect(left - 16, beam - 12, w - 2 * left + 32, 12, {
          fill: colour.band,
          stroke: colour.ink,
        });
        for (const x of [left - 10, w - left + 4])
          pen.rect(x, beam, 6, h * 0.66, { fill: colour.band, stroke: colour.edge, width: 1 });
        keys.forEach((key, i) => {
          const x = left + (i + 0.5) * step;
          const size = Math.max(0.7, Math.min(2.6, (step / 26) * (1.5 - (0.75 * i) / keys.length)));
          const rope = 18 + (keys.length - i) * (h * 0.011);
          const hit = struck.get(key);
          const fade = hit ? Math.exp(-hit.since / 700_000) : 0;
          const turn =
            hit && !pen.still ? Math.sin(hit.since / 95_000) * 0.42 * fade * (0.4 + hit.force) : 0;
          const [bx, by] = [x + Math.sin(turn) * rope, beam + Math.cos(turn) * rope + 12 * size];
          pen.line([[x, beam], [x + Math.sin(turn) * rope, beam + Math.cos(turn) * rope]], { stroke: colour.ink2, width: 1 }); // prettier-ignore
          const rings = fade > 0.12;
          pen.path(
            BELL,
            bx,
            by,
            size,
            { fill: rings ? colour.gold : colour.page, stroke: colour.ink },
            -turn,
          );
          if (rings)
            for (const r of [18, 25])
              pen.arc(bx, by + 6 * size, r * size * (1.2 - fade * 0.3), 0.35, Math.PI - 0.35, {
                stroke: colour.lamp,
                width: 1.5 * fade,
              });
          if (dropped.some((d) => d.key === key)) pen.cross(bx, by, 11 * size);
          if (step > 24)
            pen.words(noteName(key), x, h - 48, { size: 12, align: 'center', colour: colour.ink2 });
        });
        const [gone] = dropped.slice(-1);
        pen.words(
          gone ? `${noteName(gone.key)}: ${gone.because}` : `${keys.length} bells`,
          left,
          h - 22,
          { colour: gone ? colour.wax : colour.ink2, room: w - 2 * left },
        );
      },
      describe({ struck, dropped }) {
        const now = [...struck].filter(([, s]) => s.since < 400_000).map(([key]) => noteName(key));
        const [gone] = dropped.slice(-1);
        return `${now.length === 0 ? 'No bell is struck' : `Struck: ${now.join(', ')}`}.${gone ? ` ${noteName(gone.key)} was dropped: ${gone.because}.` : ''}`;
      },
    };
  },
});
