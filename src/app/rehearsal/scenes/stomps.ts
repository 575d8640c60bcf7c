import type { Dropped, Happening } from '../../../core/standin/played';
import { defineScene, inSeconds } from '../scene';
import { Timeline } from '../timeline';
import { Board } from '../hands/board';
import { StampHands } from '../hands/stamps';

/** Where the dial and the studs are on the lid. */
function placesOf(w: number, h: number, count: number) {
  const [x, y, wide, tall] = [w * 0.08, h * 0.12, w * 0.84, h * 0.66];
  const each = Math.max(1, count);
  const r = Math.min(tall * 0.12, (wide * 0.4) / each / 2);
  return {
    dial: { x: x + wide * 0.78, y: y + tall * 0.44, r: Math.min(tall * 0.3, wide * 0.13) },
    studs: Array.from({ length: count }, (_, i) => ({
      x: x + wide * (0.14 + (0.46 * (i + 0.5)) / each),
      y: y + tall * 0.75,
      r,
    })),
  };
}

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
  takes: {
    says: 'Stamp the studs and turn the dial while the music plays.',
    load: (played, target) => {
      if (played.events.length === 0) return null;
      const board = new Board(played, target);
      return board.switches.length > 0 || board.dial ? new StampHands(board) : null;
    },
  },
  load(played, target) {
    const board = new Board(played, target);
    const { presets, switches } = board;
    const all = new Timeline(played);
    const nameOf = (e: Happening) => board.listed(e)?.name ?? `${Number(e.value)}.${e.key}`;
    return {
      at: (us) => ({
        us,
        preset: presets.last(us),
        next: presets.next(us),
        deaf: board.deaf(us),
        on: new Set(switches.filter((number) => board.standing(number, us).on)),
        needle: board.turned(us)?.value ?? null,
        dropped: all.justDropped(us),
      }),
      under: (x, y, w, h) => {
        const { dial, studs } = placesOf(w, h, switches.length);
        const near = (p: { x: number; y: number; r: number }) => Math.hypot(x - p.x, y - p.y) < p.r;
        const stud = studs.findIndex((s) => near({ ...s, r: s.r * 1.25 }));
        if (stud >= 0) return String(switches[stud]);
        return board.dial && near({ ...dial, r: dial.r * 1.1 }) ? 'dial' : null;
      },
      draw(pen, state, inHand) {
        const { us, preset, next, deaf, dropped } = state;
        const hands = inHand?.hands instanceof StampHands ? inHand.hands : null;
        const at = inHand?.us ?? us;
        const isOn = (n: number) => (hands ? hands.isOn(n, at) : state.on.has(n));
        const needle = hands ? hands.level(at) : state.needle;
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
        const { dial, studs } = placesOf(w, h, switches.length);
        const { x: cx, y: cy, r } = dial;
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
          const { x: sx, y: sy, r: size } = studs[i]!;
          const lit = isOn(number);
          const doing = hands?.doings.find((d) => d.id === String(number));
          pen.circle(sx, sy, size, {
            fill: lit ? colour.gold : colour.page,
            stroke: colour.ink,
            width: inHand?.held.has(String(number)) ? 4 : lit ? 2.5 : 1.5,
          });
          const under = doing ? inHand!.keyOf(doing) : String(number);
          pen.words(under, sx, sy + size + Math.max(12, h * 0.045), {
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
