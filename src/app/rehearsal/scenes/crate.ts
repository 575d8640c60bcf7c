import type { Dropped, Played } from '../../../core/standin/played';
import { plain } from '../../../core/target/words';
import { bpmOf } from '../../../core/time/tempo-map';
import type { Target } from '../../../core/target/schema';
import { keyCap } from '../hands/drawn';
import { PedalHands, PLATES } from '../hands/pedal';
import type { Pen } from '../pen';
import { defineScene, type HandsSeen, type Takes } from '../scene';
import { seatNamed } from '../seats';
import { Timeline } from '../timeline';

interface State {
  readonly us: number;
  /** Notes that sound, by place. */
  readonly now: ReadonlyMap<string, number>;
  readonly dropped: readonly Dropped[];
}

/** The song’s kit first; all where it names none. */
function kitsOf({ display }: Played, { kits = [] }: Target) {
  const own = kits.findIndex((k) => k.id === display?.kit);
  const list = own > 0 ? [...kits.slice(own), ...kits.slice(0, own)] : kits;
  return list.map((k) => ({ name: k.name, keys: new Set(k.keys.map((e) => e.noteNumber)) }));
}

const takes: Takes = {
  says: 'Play the song with the foot: a plate begins it.',
  load: (played, target) =>
    played.turns?.length
      ? new PedalHands(played.turns, played.events, kitsOf(played, target))
      : null,
};

type FileSlot = Extract<Target['seats'][number], { kind: 'file' }>;

interface Box {
  readonly seat: FileSlot;
  readonly x: number;
  readonly y: number;
  readonly w: number;
  readonly h: number;
}
interface Head {
  readonly words: string;
  readonly x: number;
  readonly y: number;
  readonly room: number;
  readonly align: 'left' | 'center';
}

const GAP = 5;
const EDGE = 12;
/** Of the width; what is left is for the places that are no crossing. */
const TABLE_SHARE = 0.56;

/**
 * Where the places stand: those of the song on the left, row by row, and the crossings on the right as
 * a table, a row for the round that each leads from and a column for the one that it leads to.
 */
export function boardOf(
  seats: readonly FileSlot[],
  width: number,
  tall: number,
): { readonly boxes: readonly Box[]; readonly heads: readonly Head[] } {
  const isCrossing = (s: FileSlot) => s.plays === 'crossing' && s.from && s.to;
  const crossings = seats.filter(isCrossing);
  const own = seats.filter((s) => !isCrossing(s));
  const boxes: Box[] = [];
  const heads: Head[] = [];
  const room = width - 2 * EDGE;
  const left = crossings.length > 0 ? room * (1 - TABLE_SHARE) : room;
  const columns = Math.max(1, Math.floor(left / 84));
  const rows = Math.max(1, Math.ceil(own.length / columns));
  const [cw, ch] = [left / columns, Math.min(40, (tall - EDGE) / rows)];
  own.forEach((seat, i) => {
    const x = EDGE + (i % columns) * cw;
    const y = 10 + Math.floor(i / columns) * ch;
    boxes.push({ seat, x, y, w: cw - GAP, h: ch - GAP });
  });
  const rounds = seats.filter((s) => crossings.some((c) => c.from === s.id || c.to === s.id));
  if (rounds.length === 0) return { boxes, heads };
  const from = EDGE + left + 10;
  const lead = 72;
  const w = (width - EDGE - from - lead) / rounds.length;
  const h = Math.min(34, (tall - 34) / rounds.length);
  heads.push({ words: 'from ↓ to →', x: from, y: 20, room: lead - 4, align: 'left' });
  rounds.forEach(({ name: words }, i) => {
    const x = from + lead + (i + 0.5) * w;
    heads.push({ words, x, y: 20, room: w - 4, align: 'center' });
    heads.push({ words, x: from, y: 30 + (i + 0.5) * h, room: lead - 6, align: 'left' });
  });
  for (const seat of crossings) {
    const column = rounds.findIndex((r) => r.id === seat.to);
    const row = rounds.findIndex((r) => r.id === seat.from);
    const [x, y] = [from + lead + column * w, 30 + row * h];
    boxes.push({ seat, x, y, w: w - GAP, h: h - GAP });
  }
  return { boxes, heads };
}

/** A board of the song’s places over two plates and a display between them. */
export const crate = defineScene<State>({
  id: 'crate',
  says: 'The crate’s places over its two plates; what plays is lit, as far as it is.',
  takes,
  load(played, target, file = null) {
    const line = new Timeline(played);
    const seats = target.seats.filter((s) => s.kind === 'file');
    const turns = new Map((played.turns ?? []).map((t) => [t.seat, t]));
    const shown = played.turns?.find((t) => t.file === file)?.seat ?? null;
    const nameOf = (seat: string) => seatNamed(target, seat);
    const kits = kitsOf(played, target);

    function board(pen: Pen, tall: number, lit: string | null, share: number, next: string | null) {
      const { colour } = pen;
      const { boxes, heads } = boardOf(seats, pen.w, tall);
      for (const { words, x, y, room, align } of heads)
        pen.words(words, x, y, { size: 12, room, align, colour: colour.ink2 });
      for (const { seat, x, y, w: cw, h: ch } of boxes) {
        const on = seat.id === lit;
        const there = turns.has(seat.id);
        pen.rect(
          x,
          y,
          cw,
          ch,
          {
            fill: on ? colour.gold : there ? colour.band : colour.page,
            stroke: there ? colour.ink : colour.line,
            width: on || seat.id === next ? 2 : 1,
            ...(seat.id === next ? { dash: [4, 3] } : {}),
          },
          3,
        );
        if (on) pen.rect(x + 2, y + ch - 5, (cw - 4) * share, 3, { fill: '#1d2433' });
        // In the table rows and columns say what it is.
        if (ch > 14 && seat.plays !== 'crossing')
          pen.words(seat.name, x + 6, y + ch / 2, {
            size: 12,
            room: cw - 10,
            colour: on ? '#1d2433' : there ? colour.ink : colour.ink2,
          });
      }
      return boxes;
    }

    function plates(
      pen: Pen,
      top: number,
      says: readonly [string, string],
      hands: HandsSeen | null,
    ) {
      const { w, h, colour } = pen;
      const tall = h - top - 10;
      const wide = Math.min(230, w * 0.26);
      const held = (id: string) => hands?.held.has(id) === true || hands?.held.has('both') === true;
      (
        [
          ['left', 14],
          ['right', w - 14 - wide],
        ] as const
      ).forEach(([id, x]) => {
        const down = held(id);
        const y = top + (down ? 3 : 0);
        pen.rect(x, y, wide, tall - 3, { fill: colour.band, stroke: colour.ink, width: down ? 2.5 : 1.5 }, 6); // prettier-ignore
        pen.hatch(x + 8, y + 8, wide - 16, tall - 19, down ? colour.lamp : colour.line);
        if (hands) keyCap(pen, x + wide / 2, y + tall / 2, hands, PLATES[id === 'left' ? 0 : 1]!);
        else if (wide > 90)
          pen.words(id === 'left' ? 'next bed' : 'break', x + wide / 2, y + tall / 2, {
            align: 'center',
            size: 12,
            colour: colour.ink2,
          });
      });
      const [x, room] = [14 + wide + 16, w - 2 * (wide + 30)];
      pen.rect(x, top, room, tall, { fill: colour.spine, stroke: colour.ink }, 5);
      pen.words(says[0], x + room / 2, top + tall * 0.34, {
        align: 'center',
        weight: 600,
        size: 17,
        colour: '#e9e1d0',
        room: room - 16,
      });
      pen.words(says[1], x + room / 2, top + tall * 0.7, {
        align: 'center',
        size: 12,
        colour: '#b4ae9f',
        room: room - 16,
      });
    }

    const title = () => {
      const { display } = played;
      return display
        ? `${display.name}   ${plain(bpmOf(display.microsecondsPerQuarter))}`
        : 'No song';
    };

    return {
      at(us) {
        const now = new Map<string, number>();
        for (const e of line.sounding(us))
          if (shown === null || e.seat === shown) now.set(e.seat, (now.get(e.seat) ?? 0) + 1);
        return { us, now, dropped: line.justDropped(us) };
      },
      draw(pen, { us, dropped }, hands) {
        const { w, h, colour } = pen;
        const foot = h > 190 ? 84 : 0;
        const pedal = hands?.hands instanceof PedalHands ? hands.hands : null;
        let lit = shown;
        let share = 0;
        let says = `${turns.size} of ${seats.length} places filled`;
        let next: string | null = null;
        if (pedal && hands) {
          const { now, next: wish } = pedal;
          lit = now?.turn.seat ?? null;
          if (now) share = ((hands.us - now.fromUs) % now.turn.lengthUs) / now.turn.lengthUs;
          next = wish?.turn?.seat ?? null;
          const kit = kits[pedal.kit]?.name;
          const inBeats = wish ? ` in ${((wish.atUs - hands.us) / 1e6).toFixed(1)} s` : '';
          says = now
            ? `${nameOf(now.turn.seat)}${wish ? `, then ${wish.turn ? nameOf(wish.turn.seat) : 'the end'}${inBeats}` : ''}${kit ? ` · ${kit}` : ''}`
            : pedal.says();
        } else if (shown !== null) {
          const length = turns.get(shown)?.lengthUs ?? 1;
          share = Math.min(1, us / length);
          says = nameOf(shown);
        }
        const tall = h - foot - (foot ? 8 : 24);
        const boxes = board(pen, tall, lit, Math.max(0, Math.min(1, share)), next);
        if (foot) plates(pen, h - foot, [title(), says], hands);
        for (const d of dropped) {
          const at = boxes.find(({ seat }) => seat.id === d.seat);
          if (at) pen.cross(at.x + at.w / 2, at.y + at.h / 2, 7);
        }
        const [gone] = dropped.slice(-1);
        if (gone)
          pen.words(`${nameOf(gone.seat)}: ${gone.because}`, 14, h - foot - 12, {
            colour: colour.wax,
            room: w - 28,
          });
      },
      describe: ({ now }) =>
        now.size === 0
          ? 'The crate is silent.'
          : `Sounding: ${[...now.keys()].map(nameOf).join(', ')}.`,
    };
  },
});
