import type { Dropped, Happening } from '../../../core/standin/played';
import { defineScene, inSeconds } from '../scene';
import { Timeline } from '../timeline';
import { Levels } from './levels';

interface State {
  readonly us: number;
  readonly preset: Happening | null;
  readonly next: Happening | null;
  /** It loads, and hears nothing. */
  readonly deaf: boolean;
  readonly on: ReadonlySet<number>;
  readonly needle: number | null;
  readonly dropped: readonly Dropped[];
}

/** A cask with iron studs on its lid, a dial for the foot, and a paper label: what is switched on, and by which preset. */
export const stomps = defineScene<State>({
  id: 'stomps',
  says: 'A cask of effects: its label, its studs, its dial, and when it hears nothing.',
  load(played, target) {
    const presets = new Timeline(played, ['preset']);
    const all = new Timeline(played);
    const levels = new Levels(played.events);
    const blocks = target.curves?.list ?? [];
    const switches = blocks
      .filter((b) => b.values?.length === 2)
      .flatMap((b) => b.controllers ?? []);
    const dial = blocks.find((b) => !b.values && b.perSecond !== undefined)?.controllers?.[0];
    const listOf = (e: Happening | null) =>
      e
        ? (target.presets?.list.find((p) => p.bank === Number(e.value) && p.program === e.key) ??
          null)
        : null;
    const nameOf = (e: Happening) => listOf(e)?.name ?? `${Number(e.value)}.${e.key}`;
    return {
      at: (us) => {
        const preset = presets.last(us);
        const on = new Set<number>();
        for (const number of switches) {
          const last = levels.last(number, us);
          const pressed = last && last.atUs >= (preset?.atUs ?? 0) ? last.value >= 64 : null;
          if (pressed ?? listOf(preset)?.on?.includes(number) ?? false) on.add(number);
        }
        return {
          us,
          preset,
          next: presets.next(us),
          deaf: preset !== null && us - preset.atUs < (preset.lengthUs ?? 0),
          on,
          needle: dial === undefined ? null : (levels.last(dial, us)?.value ?? null),
          dropped: all.justDropped(us),
        };
      },
      draw(pen, { us, preset, next, deaf, on, needle, dropped }) {
        const { w, h, colour } = pen;
        const [x, y, wide, tall] = [w * 0.08, h * 0.12, w * 0.84, h * 0.66];
        pen.rect(x, y, wide, tall, { fill: colour.band, stroke: colour.ink, width: 2 }, 26);
        for (const at of [0.04, 0.96])
          pen.line([[x + wide * at, y + 8], [x + wide * at, y + tall - 8]], { stroke: colour.edge, width: 5 }); // prettier-ignore
        // The label.
        const [lx, lw, lh] = [x + wide * 0.1, wide * 0.5, tall * 0.36];
        pen.rect(lx, y + tall * 0.12, lw, lh, { fill: colour.page, stroke: colour.line }, 4);
        if (deaf) pen.hatch(lx, y + tall * 0.12, lw, lh);
        pen.words(preset ? nameOf(preset) : 'No preset', lx + 14, y + tall * 0.12 + lh * 0.5, {
          size: Math.max(12, h * 0.075),
          serif: true,
          weight: 600,
          room: lw - 28,
        });
        pen.words(
          deaf
            ? 'It loads, and hears nothing'
            : next
              ? `Then ${nameOf(next)} in ${inSeconds(next.atUs - us)}`
              : 'No preset follows',
          lx + 14,
          y + tall * 0.12 + lh * 0.8,
          { size: Math.max(10, h * 0.036), colour: colour.ink2, room: lw - 28 },
        );
        // The dial.
        const [cx, cy, r] = [x + wide * 0.78, y + tall * 0.44, Math.min(tall * 0.3, wide * 0.13)];
        pen.arc(cx, cy, r, Math.PI * 0.85, Math.PI * 2.15, { stroke: colour.edge, width: 2 });
        const turn = Math.PI * (0.85 + (1.3 * (needle ?? 0)) / 127);
        pen.line([[cx, cy], [cx + Math.cos(turn) * r * 0.92, cy + Math.sin(turn) * r * 0.92]], { stroke: needle === null ? colour.faint : colour.wax, width: 3 }); // prettier-ignore
        pen.circle(cx, cy, r * 0.1, { fill: colour.ink });
        pen.words(needle === null ? '–' : String(Math.round(needle)), cx, cy + r * 0.72, {
          align: 'center',
          size: Math.max(10, h * 0.04),
        });
        // The studs.
        switches.forEach((number, i) => {
          const sx = x + wide * (0.14 + (0.46 * (i + 0.5)) / Math.max(1, switches.length));
          const sy = y + tall * 0.75;
          const size = Math.min(tall * 0.12, (wide * 0.4) / Math.max(1, switches.length) / 2);
          pen.circle(sx, sy, size, {
            fill: on.has(number) ? colour.gold : colour.page,
            stroke: colour.ink,
            width: on.has(number) ? 2.5 : 1.5,
          });
          pen.words(String(number), sx, sy + size + Math.max(12, h * 0.045), {
            align: 'center',
            size: Math.max(9, h * 0.032),
            colour: colour.ink2,
          });
          if (dropped.some((d) => d.key === number)) pen.cross(sx, sy, size * 0.9);
        });
        const [gone] = dropped.slice(-1);
        if (gone)
          pen.words(gone.because, w / 2, h - 20, {
            align: 'center',
            colour: colour.wax,
            room: w - 40,
          });
      },
      describe: ({ preset, next, deaf, on, needle, us }) =>
        [
          preset ? `Preset ${nameOf(preset)}${deaf ? ', loading' : ''}.` : 'No preset yet.',
          on.size > 0 ? `On: ${[...on].join(', ')}.` : 'Nothing is switched on.',
          needle === null ? '' : `The dial stands at ${Math.round(needle)}.`,
          next ? `${nameOf(next)} follows in ${inSeconds(next.atUs - us)}.` : '',
        ]
          .filter(Boolean)
          .join(' '),
    };
  },
});
