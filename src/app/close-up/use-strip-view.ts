import { computed, ref, watch, type Ref } from 'vue';
import { useHand } from '../stores/hand';
import type { LaidPiece } from '../stores/job';
import { useLooking } from '../stores/looking';
import { usePlaying } from '../stores/playing';
import { AXIS } from './geometry';

interface Options {
  readonly piece: Readonly<Ref<LaidPiece | null>>;
  readonly width: Readonly<Ref<number>>;
}

/** Which stretch of the music is in the close-up, and how near. */
export function useStripView({ piece, width }: Options) {
  const looking = useLooking();
  const playing = usePlaying();
  const hand = useHand();
  const fromTick = ref(0);
  const ticksPerPixel = ref(4);
  /** It goes with the music. */
  const follows = ref(true);
  const span = computed(() => Math.max(1, (width.value - AXIS) * ticksPerPixel.value));
  const furthest = computed(() => Math.max(0, (piece.value?.endTick ?? 0) - span.value * 0.5));
  const goTo = (tick: number) => (fromTick.value = Math.max(0, Math.min(furthest.value, tick)));
  function zoom(by: number, around = AXIS + (width.value - AXIS) / 2) {
    const fixed = fromTick.value + (around - AXIS) * ticksPerPixel.value;
    const all = Math.max(1, piece.value?.endTick ?? 1) / Math.max(1, width.value - AXIS);
    ticksPerPixel.value = Math.max(0.05, Math.min(Math.max(all, 4), ticksPerPixel.value * by));
    goTo(fixed - (around - AXIS) * ticksPerPixel.value);
  }
  function wheel(event: WheelEvent) {
    if (event.ctrlKey || event.metaKey) zoom(1.0015 ** event.deltaY, event.offsetX);
    else goTo(fromTick.value + (event.deltaX + event.deltaY) * ticksPerPixel.value);
    follows.value = false;
  }
  /** Four bars are in view at first, with a little before the place that was asked for. */
  const BARS_IN_VIEW = 4;
  watch([() => hand.at.n, () => width.value > AXIS], ([, wide], before) => {
    const p = piece.value;
    if (!wide || !p) return;
    if (!before[1]) {
      const bars = p.bars.barStart(BARS_IN_VIEW) - p.bars.barStart(0);
      ticksPerPixel.value = bars / (width.value - AXIS);
    }
    goTo(hand.at.tick - span.value * 0.06);
  });
  watch(
    () => playing.tick,
    () => {
      if (!playing.playing || !follows.value) return;
      const tick = playing.shownTick;
      if (tick < fromTick.value || tick > fromTick.value + span.value * 0.92)
        goTo(tick - span.value * 0.06);
    },
  );
  watch(
    () => looking.openFinding,
    (finding) => {
      const first = finding?.spans[0];
      if (
        first &&
        (first.fromTick < fromTick.value || first.fromTick > fromTick.value + span.value)
      )
        goTo(first.fromTick - span.value * 0.2);
    },
  );

  return { fromTick, ticksPerPixel, follows, span, goTo, zoom, wheel };
}
