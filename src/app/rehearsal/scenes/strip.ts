import type { Dropped, Happening } from '../../../core/standin/played';
import { noteName } from '../../../core/target/words';
import { defineScene } from '../scene';
import { keysOf } from '../seats';
import { Timeline } from '../timeline';

interface State {
  readonly us: number;
  readonly seen: readonly Happening[];
  readonly torn: readonly Dropped[];
  readonly now: readonly Happening[];
}
const BEHIND_US = 1_500_000;
const AHEAD_US = 5_000_000;

/** A punched strip runs over a reading bar: holes sound as they pass, torn ones flutter in wax. */
export const strip = defineScene<State>({
  id: 'strip',
  says: 'A punched strip runs over the reading bar; torn holes are in wax.',
  load(played, target) {
    const line = new Timeline(played);
    const keys = keysOf(line.events, target);
    const rows = played.rate ?? null;
    return {
      at: (us) => ({
        us,
        seen: line.across(us - BEHIND_US, us + AHEAD_US),
        torn: line.dropped.filter((d) => d.atUs > us - BEHIND_US && d.atUs < us + AHEAD_US),
        now: line.sounding(us),
      }),
      draw(pen, { us, seen, torn, now }) {
        const { w, h, colour } = pen;
        const [top, bottom] = [26, h - 44];
        const left = 54;
        const pipe = (bottom - top) / Math.max(1, keys.length);
        const x = (at: number) =>
          left + ((at - us + BEHIND_US) / (BEHIND_US + AHEAD_US)) * (w - left - 12);
        const y = (key: number) => bottom - (keys.indexOf(key) + 0.5) * pipe;
        pen.rect(left, top - 8, w - left - 12, bottom - top + 16, {
          fill: colour.band,
          stroke: colour.edge,
          width: 1,
        });
        for (let s = Math.ceil((us - BEHIND_US) / 250_000); s * 250_000 < us + AHEAD_US; s++) {
          pen.circle(x(s * 250_000), top - 3, 1.6, { fill: colour.edge });
          pen.circle(x(s * 250_000), bottom + 3, 1.6, { fill: colour.edge });
        }
        const tall = Math.max(2, pipe * 0.62);
        for (const e of seen) {
          if (!keys.includes(e.key)) continue;
          const long = Math.max(5, x(e.atUs + (e.lengthUs ?? 0)) - x(e.atUs));
          pen.rect(x(e.atUs), y(e.key) - tall / 2, long, tall, { fill: colour.ink }, tall / 2);
        }
        for (const d of torn) {
          const shake = pen.still ? 0 : Math.sin(us / 40_000 + d.key) * 1.5;
          pen.rect(
            x(d.atUs),
            y(d.key) - tall / 2 + shake,
            9,
            tall,
            { stroke: colour.wax, width: 1.5 },
            2,
          );
        }
        const bar = x(us);
        pen.line([[bar, top - 16], [bar, bottom + 14]], { stroke: colour.lamp, width: 2.5 }); // prettier-ignore
        for (const e of now)
          pen.rect(6, y(e.key) - tall / 2, 14, Math.max(3, tall), {
            fill: colour.gold,
            stroke: colour.ink,
            width: 1,
          });
        // A row that is thinner than its name has none.
        if (pipe >= 12)
          for (const key of keys)
            pen.words(noteName(key), 46, y(key), {
              size: 12,
              align: 'right',
              colour: colour.ink2,
            });
        const row =
          rows === null
            ? ''
            : `row ${Math.floor((us * rows) / 1_000_000)} of ${Math.ceil((line.lengthUs * rows) / 1_000_000)}, ${rows} rows a second`;
        pen.words(row, left, h - 20, { colour: colour.ink2 });
        const gone = torn.filter((d) => d.atUs <= us).at(-1);
        if (gone)
          pen.words(`${noteName(gone.key)}: ${gone.because}`, w - 12, h - 20, {
            align: 'right',
            colour: colour.wax,
            room: w / 2,
          });
      },
      describe: ({ now, us }) =>
        `${rows === null ? '' : `Row ${Math.floor((us * rows) / 1_000_000)}. `}${now.length === 0 ? 'No pipe sounds' : `Sounding: ${now.map((e) => noteName(e.key)).join(', ')}`}.`,
    };
  },
});
