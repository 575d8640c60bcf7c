import type { Dropped, Happening } from '../../../core/standin/played';
import { count } from '../../../core/target/words';
import { defineScene } from '../scene';
import { Timeline } from '../timeline';

interface State {
  readonly us: number;
  readonly flashing: ReadonlyMap<string, Happening>;
  readonly last: ReadonlyMap<string, Happening>;
  readonly dropped: readonly Dropped[];
}
const RINGS_US = 500_000;

/** The names that the game listens for, each with its last value; those never called, and strangers. */
export const names = defineScene<State>({
  id: 'names',
  says: 'The names that the game listens for; each flashes with its value.',
  load(played, target) {
    const line = new Timeline(played);
    const listened = target.strands?.names ?? [];
    const called = [...new Set(line.events.map((e) => e.seat))].sort();
    const all = [...listened, ...called.filter((n) => !listened.includes(n))];
    const counts = new Map<string, number>();
    for (const e of line.events) counts.set(e.seat, (counts.get(e.seat) ?? 0) + 1);
    return {
      at(us) {
        const last = new Map<string, Happening>();
        for (let i = line.behind(us) - 1; i >= 0 && last.size < called.length; i--) {
          const e = line.events[i]!;
          if (!last.has(e.seat)) last.set(e.seat, e);
          if (us - e.atUs > 60_000_000) break;
        }
        const flashing = new Map(
          [...last].filter(([, e]) => us - e.atUs < Math.max(RINGS_US, e.lengthUs ?? 0)),
        );
        return { us, flashing, last, dropped: line.justDropped(us) };
      },
      draw(pen, { us, flashing, last, dropped }) {
        const { w, h, colour } = pen;
        const columns = all.length > 10 ? 3 : 2;
        const rows = Math.max(1, Math.ceil(all.length / columns));
        const [cw, ch] = [(w - 32) / columns, Math.min(46, (h - 60) / rows)];
        all.forEach((name, i) => {
          const x = 16 + (i % columns) * cw;
          const y = 14 + Math.floor(i / columns) * ch;
          const on = flashing.get(name);
          const stranger = !listened.includes(name) && listened.length > 0;
          const never = !counts.has(name);
          pen.rect(
            x,
            y,
            cw - 10,
            ch - 8,
            {
              fill: on ? colour.gold : colour.page,
              stroke: stranger ? colour.wax : colour.edge,
              width: on ? 2 : 1,
              ...(stranger ? { dash: [4, 3] } : {}),
            },
            4,
          );
          if (never) pen.hatch(x, y, cw - 10, ch - 8);
          const lit = on ? '#1d2433' : colour.ink;
          pen.words(name, x + 10, y + ch / 2 - 4, {
            weight: 600,
            room: cw * 0.55,
            colour: never ? colour.ink2 : lit,
          });
          const value = last.get(name)?.value;
          pen.words(
            never
              ? 'never called'
              : stranger
                ? 'nobody listens'
                : on && value !== null && value !== undefined
                  ? String(value)
                  : count(counts.get(name)!, 'call'),
            x + cw - 20,
            y + ch / 2 - 4,
            { align: 'right', colour: on ? '#1d2433' : colour.ink2, room: cw * 0.4 },
          );
          if (on && (on.lengthUs ?? 0) > 0) {
            const share = Math.min(1, (us - on.atUs) / on.lengthUs!);
            pen.rect(x, y + ch - 12, (cw - 10) * share, 4, { fill: colour.lamp });
          }
        });
        const [gone] = dropped.slice(-1);
        if (gone) pen.words(`${gone.seat}: ${gone.because}`, 16, h - 22, { colour: colour.wax });
      },
      describe: ({ flashing }) =>
        flashing.size === 0
          ? 'No name is called.'
          : `Called: ${[...flashing].map(([n, e]) => (e.value === null || e.value === undefined ? n : `${n} with ${e.value}`)).join(', ')}.`,
    };
  },
});
