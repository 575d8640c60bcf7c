import type { Dropped, Happening, Stray } from '../../../core/standin/played';
import { count } from '../../../core/target/words';
import { StoneHands } from '../hands/stones';
import { keyCap } from '../hands/drawn';
import type { Pen } from '../pen';
import { defineScene, type HandsSeen, type Takes } from '../scene';
import { Timeline } from '../timeline';

interface State {
  readonly us: number;
  readonly now: ReadonlyMap<string, number>;
  readonly dropped: readonly Dropped[];
}

const takes: Takes = {
  says: 'Begin a stone with a digit, hold a chord, and hear it plucked.',
  load: (played, target) =>
    played.turns?.length ? new StoneHands(played.turns, played.events, target) : null,
};

/** Files that are played each for itself: a stone for each, turning once while it lasts. */
export const places = defineScene<State>({
  id: 'places',
  says: 'A stone for each file, its pattern going round in it.',
  takes,
  load(played, target, file = null) {
    const line = new Timeline(played);
    const byFile = new Map<string, Happening[]>();
    for (const e of line.events) {
      const there = byFile.get(e.file);
      if (there) there.push(e);
      else byFile.set(e.file, [e]);
    }
    // Those that were refused stand there too, without a pattern.
    const strays = played.stray ?? [];
    const there = [...new Set([...byFile.keys(), ...strays.map((s) => s.file)])].sort();
    // A stone for each place that a name can say, filled or not; what names none comes last.
    const prefixes = (target.naming?.prefixes ?? []).slice(0, 16);
    const placed = prefixes.map((p) => there.find((f) => f.startsWith(p)) ?? p);
    const files = [...placed, ...there.filter((f) => !placed.includes(f))].slice(0, 24);
    const turns = new Map((played.turns ?? []).map((t) => [t.file, t]));
    const endOf = (file: string) =>
      turns.get(file)?.lengthUs ??
      (byFile.get(file) ?? []).reduce((m, e) => Math.max(m, e.atUs + (e.lengthUs ?? 0)), 1);
    const ends = new Map(files.map((f) => [f, Math.max(1, endOf(f))]));
    return {
      at(us) {
        const now = new Map<string, number>();
        for (const e of line.sounding(us))
          if (file === null || e.file === file) now.set(e.file, (now.get(e.file) ?? 0) + 1);
        return { us, now, dropped: line.justDropped(us) };
      },
      draw(pen, { us, now, dropped }, hands) {
        const { h, colour } = pen;
        const stones = hands?.hands instanceof StoneHands ? hands.hands : null;
        const wheel = strays.length > 0 ? Math.min(170, pen.w * 0.24) : 0;
        const w = pen.w - wheel;
        if (wheel > 0) drawWheel(pen, w + wheel / 2, h / 2 - 10, wheel * 0.36, strays, us);
        const columns = columnsFor(files.length, w - 24, h - 50);
        const rows = Math.max(1, Math.ceil(files.length / columns));
        const [cw, ch] = [(w - 24) / columns, (h - 50) / rows];
        const r = Math.max(14, Math.min(cw, ch - 26) * 0.38);
        files.forEach((name, i) => {
          const x = 12 + ((i % columns) + 0.5) * cw;
          const y = 10 + Math.floor(i / columns) * ch + r + 8;
          const end = ends.get(name)!;
          const inHand = stones?.now?.turn.file === name ? hands!.us - stones.now.fromUs : null;
          const at = stones ? inHand : file === null || file === name ? us : null;
          const place = at === null ? 0 : inHand === null ? Math.min(at, end) : at % end;
          const on = stones ? inHand !== null : now.has(name);
          const notes = byFile.get(name);
          pen.circle(x, y, r, {
            fill: on ? colour.quillWash : notes ? colour.band : colour.page,
            stroke: notes ? colour.ink : there.includes(name) ? colour.wax : colour.edge,
            width: on ? 2.5 : 1.5,
            ...(there.includes(name) ? {} : { dash: [4, 4] }),
          });
          const turn = (share: number) => -Math.PI / 2 + share * Math.PI * 2;
          // What stands in it, round the rim.
          for (const e of (notes ?? []).slice(0, 256)) {
            const a = turn(e.atUs / end);
            const inner = r * (0.62 + 0.3 * ((e.key % 24) / 24));
            const sounds =
              at !== null && e.atUs <= place && place < e.atUs + Math.max(180_000, e.lengthUs ?? 0);
            pen.circle(x + Math.cos(a) * inner, y + Math.sin(a) * inner, sounds ? 3 : 1.8, {
              fill: sounds ? colour.wax : colour.ink,
            });
          }
          if (at !== null && notes) {
            const a = turn(place / end);
            pen.line([[x, y], [x + Math.cos(a) * r, y + Math.sin(a) * r]], { stroke: colour.lamp, width: 2 }); // prettier-ignore
          }
          if (there.includes(name) && (!notes || dropped.some((d) => d.file === name)))
            pen.cross(x, y, r * 0.4);
          const doing = stones?.doingOf(name);
          if (doing) keyCap(pen, x, y, hands!, doing);
          pen.words(name.replace(/(\.[^.]*|_)$/, ''), x, y + r + 13, {
            size: 12,
            align: 'center',
            room: cw - 6,
            weight: on ? 600 : 400,
          });
        });
        if (stones) drawKeys(pen, hands!);
        const [gone] = dropped.slice(-1);
        if (stones) return;
        pen.words(gone ? `${gone.file}: ${gone.because}` : count(byFile.size, 'file'), 12, h - 18, {
          colour: gone ? colour.wax : colour.ink2,
          room: w - 24,
        });
      },
      describe: ({ now }) =>
        now.size === 0
          ? 'Nothing sounds.'
          : `Sounding: ${[...now].map(([f, n]) => `${f} ${n}`).join(', ')}.`,
    };
  },
});

/** As many columns as let the stones be largest, each with a line of words under it. */
function columnsFor(stones: number, w: number, h: number): number {
  let best = { columns: 1, room: -Infinity };
  for (let columns = 1; columns <= Math.max(1, stones); columns++) {
    const room = Math.min(w / columns, h / Math.ceil(stones / columns) - 26);
    if (room > best.room) best = { columns, room };
  }
  return best.columns;
}

/** The keys of the chord: a row of them, those that are held filled. */
function drawKeys(pen: Pen, hands: HandsSeen) {
  const keys = hands.hands.doings.filter((d) => d.id.startsWith('key'));
  const step = Math.min(34, (pen.w - 24) / Math.max(1, keys.length));
  const from = (pen.w - step * (keys.length - 1)) / 2;
  keys.forEach((d, i) => keyCap(pen, from + i * step, pen.h - 20, hands, d));
}

/** Wheels that nobody meant to turn: how far each stands, and that its file is refused for it. */
function drawWheel(
  pen: Pen,
  x: number,
  y: number,
  r: number,
  strays: readonly Stray[],
  us: number,
) {
  const { colour } = pen;
  const now = new Map<number | null, Stray>();
  for (const s of strays) {
    if (s.atUs > us && now.has(s.controller)) continue;
    now.set(s.controller, s);
  }
  pen.circle(x, y, r, { fill: colour.page, stroke: colour.wax, width: 2 });
  const names: string[] = [];
  for (const [controller, s] of now) {
    const share = controller === null ? (s.value - 64) / 64 : s.value / 127;
    const angle = -Math.PI / 2 + share * (controller === null ? 1.3 : 2.4);
    pen.line([[x, y], [x + Math.cos(angle) * r, y + Math.sin(angle) * r]], { stroke: colour.wax, width: 2 }); // prettier-ignore
    names.push(
      controller === null ? `bend ${s.value - 64}` : `controller ${controller}: ${s.value}`,
    );
  }
  pen.circle(x, y, 4, { fill: colour.wax });
  names
    .slice(0, 3)
    .forEach((name, i) =>
      pen.words(name, x, y + r + 14 + i * 15, { size: 12, align: 'center', colour: colour.wax }),
    );
}
