import { defineStore } from 'pinia';
import { reactive, ref, watch } from 'vue';
import { db } from '../storage/db';
import type { WheelKind } from './wheel-candidates';
import { shineOn, type Light } from '../theme/tokens';

/** What is kept beside the jobs: the light, the volume, how the sheet is laid out. */
export const useSettings = defineStore('settings', () => {
  const light = ref<Light>('paper');
  const volume = ref(70);
  /** Of the score and of its recording, each in percent, under the volume. */
  const levels = reactive({ score: 80, recording: 80 });
  /** Percent of the middle that the device takes in the rehearsal. */
  const above = ref(56);
  /** By how much the hand is late when it taps what the ear hears. */
  const handDelayMs = ref(0);
  /** Seconds that are heard before a cue. */
  const preRoll = ref(2);
  const barsPerRow = ref(0); // 0 = fit
  /** Pixels of the right-hand side: of stages that read along, and of those that work there. */
  const sideWidth = reactive({ narrow: 306, wide: 440 });
  /** Pixels of the close-up. */
  const closeUp = ref(290);
  /** What the last song was for, by the target’s id. */
  const lastTarget = ref<string | null>(null);
  const ready = ref(false);
  /** What goes with the hand from job to job, until the desk is left. */
  const cueUnit = ref<StepUnit>('ms');
  const wheelKind = ref<WheelKind>('sound');
  /** Candidates are heard as loud as what is there. */
  const wheelMatched = ref(true);

  async function load() {
    try {
      const rows = await db.settings.bulkGet([
        'light',
        'volume',
        'bars-per-row',
        'side-width',
        'close-up',
        'levels',
        'cues',
        'above',
        'last-target',
      ]);
      if (rows[0]?.value === 'booth' || rows[0]?.value === 'paper') light.value = rows[0].value;
      if (typeof rows[1]?.value === 'number') volume.value = rows[1].value;
      if (typeof rows[2]?.value === 'number') barsPerRow.value = rows[2].value;
      if (typeof rows[4]?.value === 'number') closeUp.value = rows[4].value;
      const { score, recording } = (rows[5]?.value ?? {}) as Partial<typeof levels>;
      if (typeof score === 'number') levels.score = score;
      if (typeof recording === 'number') levels.recording = recording;
      const { delay, before } = (rows[6]?.value ?? {}) as { delay?: number; before?: number };
      if (typeof delay === 'number') handDelayMs.value = delay;
      if (typeof before === 'number') preRoll.value = before;
      if (typeof rows[7]?.value === 'number') above.value = rows[7].value;
      if (typeof rows[8]?.value === 'string') lastTarget.value = rows[8].value;
      const { narrow, wide } = (rows[3]?.value ?? {}) as Partial<typeof sideWidth>;
      if (typeof narrow === 'number') sideWidth.narrow = narrow;
      if (typeof wide === 'number') sideWidth.wide = wide;
    } catch {
      // Without a database the settings are those of a first visit; saving says so.
    }
    ready.value = true;
  }

  const keep = (key: string, value: unknown) => {
    if (ready.value) db.settings.put({ key, value }).catch(() => undefined);
  };
  watch(light, (value) => {
    shineOn(document.documentElement, value);
    keep('light', value);
  });
  watch(volume, (value) => keep('volume', value));
  watch([handDelayMs, preRoll], ([delay, before]) => keep('cues', { delay, before }));
  watch(levels, (value) => keep('levels', { ...value }));
  watch(lastTarget, (value) => keep('last-target', value));
  watch(above, (value) => keep('above', value));
  watch(barsPerRow, (value) => keep('bars-per-row', value));
  watch(closeUp, (value) => keep('close-up', value));
  watch(sideWidth, (value) => keep('side-width', { ...value }));
  return {
    above,
    light,
    volume,
    levels,
    handDelayMs,
    preRoll,
    barsPerRow,
    sideWidth,
    closeUp,
    lastTarget,
    cueUnit,
    wheelKind,
    wheelMatched,
    load,
  };
});

export type StepUnit = 'ms' | 'frame' | 'grid';
