import { watch, type Ref } from 'vue';
import { useJob } from '../stores/job';
import { useLooking } from '../stores/looking';
import { usePlaying } from '../stores/playing';
import { rowAt, type SheetLayout } from './layout';

interface Sheet {
  readonly frame: Ref<HTMLElement | undefined>;
  readonly layout: Ref<SheetLayout | null>;
}

/** Keeps in view what is meant: a finding, what sounds, and the same place before and after. */
export function useFollower({ frame, layout }: Sheet) {
  const job = useJob();
  const looking = useLooking();
  const playing = usePlaying();
  function bringTick(tick: number) {
    const l = layout.value;
    const el = frame.value;
    if (!l || !el) return;
    const row = rowAt(l, tick);
    if (row.top < el.scrollTop || row.top + l.rowHeight > el.scrollTop + el.clientHeight)
      el.scrollTo({ top: Math.max(0, row.top - (el.clientHeight - l.rowHeight) / 2) });
  }
  watch(
    () => looking.goTo,
    (to) => to && bringTick(to.tick),
  );
  watch(
    () => (playing.playing && layout.value ? rowAt(layout.value, playing.shownTick).index : null),
    (row) => row != null && bringTick(playing.shownTick),
  );
  // Before and after are aligned by clock: what was in view stays in view.
  watch(
    () => looking.before,
    (before) => {
      const l = layout.value;
      const shown = job.shown;
      if (!l || !shown || !frame.value) return;
      const from = before ? shown.delivered : shown.source;
      const to = before ? shown.source : shown.delivered;
      const middle = frame.value.scrollTop + frame.value.clientHeight / 2;
      const top = l.rows[Math.min(l.rows.length - 1, Math.floor(middle / l.rowHeight))]!;
      const shift = before ? -shown.commonShiftMs : shown.commonShiftMs;
      const tick = to.clock.tickAt(from.clock.msAt(top.fromTick) + shift);
      queueMicrotask(() => looking.bring(tick));
    },
  );

  return { bringTick };
}
