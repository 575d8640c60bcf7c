import { ref, shallowRef, type Ref } from 'vue';
import { useHand } from '../stores/hand';
import type { LaidPiece } from '../stores/job';
import { useLooking } from '../stores/looking';
import { usePlaying } from '../stores/playing';
import { NOTHING_PENDING } from './draw';
import { AXIS, eachIn, HEAD, hitAt, idsIn, keyAt, tickAt, type Hit, type View } from './geometry';

type Grip =
  | { readonly is: 'notes'; readonly hit: Hit; readonly x: number; readonly y: number }
  | { readonly is: 'sweep'; readonly x: number; readonly y: number; readonly more: boolean }
  | { readonly is: 'draw'; readonly tick: number; readonly key: number };

interface Options {
  readonly canvas: Readonly<Ref<HTMLCanvasElement | undefined>>;
  readonly piece: Readonly<Ref<LaidPiece | null>>;
  readonly view: Readonly<Ref<View>>;
  /** The part that notes are drawn into. */
  readonly part: Readonly<Ref<LaidPiece['parts'][number] | null>>;
  readonly drawing: Readonly<Ref<boolean>>;
  /** Ticks between lines of the grid; 0 off it. */
  readonly grid: Readonly<Ref<number>>;
  readonly quarter: Readonly<Ref<number>>;
  readonly snapped: (tick: number) => number;
}

const CHORD_MS = 600;
const MOST_IN_A_CHORD = 64;

/** Notes are chosen, moved, lengthened and drawn with mouse, pen or finger. */
export function useCloseUpPointer({
  canvas,
  piece,
  view,
  part,
  drawing,
  grid,
  quarter,
  snapped,
}: Options) {
  const looking = useLooking();
  const playing = usePlaying();
  const hand = useHand();
  const sweep = shallowRef<{ left: number; right: number; top: number; bottom: number } | null>(
    null,
  );
  const ghost = shallowRef<{ tick: number; lengthTicks: number; key: number } | null>(null);
  let grip: Grip | null = null;
  const cursor = ref('default');

  const columnsOf = ({ part: p }: Hit) => piece.value!.parts[p]!.columns;
  function choose(hit: Hit, more: boolean) {
    const id = columnsOf(hit).id[hit.index]!;
    if (!more && looking.chosen.has(id)) return;
    const next = new Set(more ? looking.chosen : []);
    if (more && next.has(id)) next.delete(id);
    else next.add(id);
    looking.chosen = next;
  }

  /** Everything in front that sounds at a tick, together. */
  function hearChord(tick: number) {
    const list: Parameters<typeof playing.hearNotes>[0][number][] = [];
    for (const i of view.value.front) {
      const { channel, program } = piece.value!.parts[i]!;
      eachIn(piece.value!.parts[i]!, tick, tick + 1, ({ start, end, noteNumber, velocity }, n) => {
        if (start[n]! > tick || end[n]! <= tick || list.length >= MOST_IN_A_CHORD) return;
        list.push({
          afterMs: 0,
          lengthMs: CHORD_MS,
          channel: channel - 1,
          key: noteNumber[n]!,
          velocity: velocity[n]!,
          program,
        });
      });
    }
    if (list.length > 0) void playing.hearNotes(list);
  }

  function down(event: PointerEvent) {
    const p = piece.value;
    if (event.button !== 0 || !p) return;
    canvas.value!.setPointerCapture(event.pointerId);
    const { offsetX: x, offsetY: y } = event;
    const hit = hitAt(view.value, p.parts, x, y);
    const more = event.shiftKey || event.ctrlKey || event.metaKey;
    if (hit) {
      choose(hit, more);
      if (event.altKey) hearChord(tickAt(view.value, x));
      else
        void playing.hearKeys(p.parts[hit.part]!, [columnsOf(hit).noteNumber[hit.index]!], {
          velocity: columnsOf(hit).velocity[hit.index]!,
        });
      grip = { is: 'notes', hit, x, y };
    } else if (x < AXIS) {
      if (part.value) void playing.hearKeys(part.value, [keyAt(view.value, y)]);
    } else if (y < HEAD) playing.seekShown(Math.max(0, tickAt(view.value, x)));
    else if (drawing.value) {
      grip = { is: 'draw', tick: snapped(tickAt(view.value, x)), key: keyAt(view.value, y) };
      ghost.value = { ...grip, lengthTicks: grid.value || quarter.value / 4 };
    } else {
      if (event.altKey) hearChord(tickAt(view.value, x));
      grip = { is: 'sweep', x, y, more };
    }
  }

  function moved(event: PointerEvent) {
    const { offsetX: x, offsetY: y } = event;
    const p = piece.value;
    if (!p) return;
    if (!grip) {
      const hit = hitAt(view.value, p.parts, x, y);
      cursor.value = hit
        ? hit.edge
          ? 'ew-resize'
          : 'grab'
        : drawing.value
          ? 'crosshair'
          : 'default';
      return;
    }
    if (grip.is === 'sweep') {
      if (sweep.value || Math.hypot(x - grip.x, y - grip.y) > 4)
        sweep.value = {
          left: Math.max(AXIS, Math.min(grip.x, x)),
          right: Math.max(grip.x, x),
          top: Math.max(HEAD, Math.min(grip.y, y)),
          bottom: Math.max(grip.y, y),
        };
    } else if (grip.is === 'draw') {
      const to = snapped(tickAt(view.value, x));
      const least = grid.value || 1;
      ghost.value = { ...grip, lengthTicks: Math.max(least, to - grip.tick) };
    } else {
      const start = columnsOf(grip.hit).start[grip.hit.index]!;
      const end = columnsOf(grip.hit).end[grip.hit.index]!;
      const by = (x - grip.x) * view.value.ticksPerPixel;
      if (Math.hypot(x - grip.x, y - grip.y) < 3 && hand.pending === NOTHING_PENDING) return;
      // Off the grid while Alt is held.
      const settle = (tick: number) => (event.altKey ? Math.round(tick) : snapped(tick));
      hand.pending = grip.hit.edge
        ? { ...NOTHING_PENDING, longerTicks: settle(end + by) - end }
        : {
            ...NOTHING_PENDING,
            ticks: settle(start + by) - start,
            semitones: keyAt(view.value, y) - keyAt(view.value, grip.y),
          };
    }
  }

  function up() {
    const was = grip;
    grip = null;
    if (was?.is === 'sweep') {
      const box = sweep.value;
      sweep.value = null;
      const found = box && piece.value ? idsIn(view.value, piece.value.parts, box) : [];
      looking.chosen = new Set([...(was.more ? looking.chosen : []), ...found]);
    } else if (was?.is === 'draw') {
      const note = ghost.value;
      ghost.value = null;
      if (note && part.value)
        void hand.draw({
          part: part.value.ref,
          tick: note.tick,
          lengthTicks: Math.round(note.lengthTicks),
          noteNumber: note.key,
          velocity: 90,
        });
    } else if (was?.is === 'notes') void hand.flush();
  }
  function cancel() {
    grip = null;
    sweep.value = null;
    ghost.value = null;
    hand.pending = NOTHING_PENDING;
  }

  return { sweep, ghost, cursor, down, moved, up, cancel };
}
