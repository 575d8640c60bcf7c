import { refOf } from '../../core/sources/which';
import { companionName } from '../../core/target/sound';
import { liveQuery } from 'dexie';
import { defineStore } from 'pinia';
import { shallowRef } from 'vue';
import type { Severity } from '../../core/rules/finding';
import { makeClock } from '../../core/time/tempo-map';
import type { RunningCall } from '../../worker/client';
import type { RunView } from '../../worker/run-protocol';
import { db, type PictureRow } from '../storage/db';
import { activePlan, jobTally, sourcesOf, type JobRecord } from '../storage/job';
import { densityOf } from '../pulse/density';
import { sideEngine } from './engine';

/** How many columns a small picture has. */
export const COLUMNS = 60;
const WORST: readonly Severity[] = ['remark', 'caution', 'stop'];

/** What a picture is of: it is drawn anew when the job is another one. */
const stateOf = (job: JobRecord) => `${job.changedAt} ${job.activeTarget}`;

/** Small pictures of jobs for their list: how dense they are, and where something is amiss. */
export const usePictures = defineStore('pictures', () => {
  const rows = shallowRef<ReadonlyMap<string, PictureRow>>(new Map());
  liveQuery(() => db.pictures.toArray()).subscribe({
    next: (found) => (rows.value = new Map(found.map((r) => [r.id, r]))),
    // A list without pictures is still a list.
    error: () => (rows.value = new Map()),
  });
  let round = 0;
  let call: RunningCall<RunView> | null = null;

  /** Draws those that are missing, one after the other; another call or `stop` ends it. */
  async function fill(jobs: readonly JobRecord[]) {
    const mine = ++round;
    for (const job of jobs) {
      if (mine !== round) return;
      const there = await db.pictures.get(job.id);
      if (there?.of === stateOf(job)) continue;
      const { now, target } = activePlan(job);
      call = sideEngine().ask('run', {
        sources: sourcesOf(job).map(refOf),
        target,
        plan: { ...(now.uses ? { uses: now.uses } : {}), steps: now.steps },
        leftAsIs: now.leftAsIs,
        known: [],
        ...(job.sound
          ? { recordingMs: job.sound.ms, soundName: companionName(job.sound.name) }
          : {}),
      });
      const view = await call.result.catch(() => null);
      if (mine !== round) return;
      if (view) await db.pictures.put(pictureOf(job, view)).catch(() => undefined);
    }
  }
  function stop() {
    round++;
    call?.cancel();
  }
  return { rows, fill, stop };
});

function pictureOf(
  job: JobRecord,
  { delivered, findings, tally, kept, choices, figures }: RunView,
): PictureRow {
  const clock = makeClock(delivered.division, delivered.tempos);
  const parts = delivered.parts.flatMap((p) =>
    typeof p.columns === 'object' ? [{ leftOut: p.leftOut, columns: p.columns }] : [],
  );
  const counts = densityOf({ clock, endTick: delivered.endTick, parts }, COLUMNS);
  const most = counts.reduce((a, b) => Math.max(a, b), 1);
  const endMs = Math.max(1, clock.msAt(delivered.endTick));
  const marks = new Array<number>(COLUMNS).fill(-1);
  for (const f of findings) {
    const [first] = f.spans;
    if (!first) continue;
    const at = Math.floor((clock.msAt(first.fromTick) / endMs) * COLUMNS);
    const column = Math.max(0, Math.min(COLUMNS - 1, at));
    marks[column] = Math.max(marks[column]!, WORST.indexOf(f.severity));
  }
  return {
    id: job.id,
    of: stateOf(job),
    density: counts.map((n) => Math.ceil((n / most) * 9)),
    marks,
    tally: jobTally(tally, kept, choices, figures),
  };
}
