import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import type { ModuleChoices, SampleChoice } from '../../core/sources/module/choices';
import { refOf } from '../../core/sources/which';
import type { ModuleView, ModuleWay } from '../../core/wire/module-view';
import type { RunningCall } from '../../worker/client';
import { sideEngine, soundEngine } from './engine';
import { useJob } from './job';
import { usePlaying } from './playing';
import { useRecording } from './recording';
import { useSettings } from './settings';

const RATE = 48_000;
/** Hard left and right are taken back so far, where nothing else is wished. */
const SOFTENED = 0.3;

/** The module that is looked at in Intake: what is in it, how it is read, its own sound. */
export const useModule = defineStore('module', () => {
  const job = useJob();
  const playing = usePlaying();
  const recording = useRecording();
  const settings = useSettings();
  const view = shallowRef<ModuleView | null>(null);
  const ways = shallowRef<readonly ModuleWay[]>([]);
  const problem = ref<string | null>(null);
  const busy = ref<string | null>(null);

  const source = computed(
    () =>
      job.sourcesNow.find((f) => job.sources.get(f.key) === job.source && job.source?.module) ??
      null,
  );
  const choices = computed<ModuleChoices>(() => source.value?.reading ?? {});
  const softened = ref(SOFTENED);
  const between = ref<'cubic' | 'linear'>('cubic');

  let asking: RunningCall<unknown> | null = null;
  watch(
    source,
    async (now) => {
      asking?.cancel();
      asking = null;
      if (!now) {
        view.value = null;
        ways.value = [];
        return;
      }
      const info = sideEngine().ask('moduleInfo', refOf(now));
      asking = info;
      try {
        const found = await info.result;
        if (asking !== info || !found) return;
        view.value = found;
        const more = sideEngine().ask('moduleWays', refOf(now));
        asking = more;
        const given = await more.result;
        if (asking === more && given) ways.value = given;
      } catch (error) {
        problem.value = `The module could not be looked into: ${(error as Error).message}`;
      }
    },
    { immediate: true },
  );

  /** Another way to read it; what is as suspected is not written down. */
  function choose(next: ModuleChoices, did: string) {
    const now = source.value;
    if (now && !job.readOnly) void job.readModule(now.key, { ...choices.value, ...next }, did);
  }

  function chooseSample(number: number, next: SampleChoice, did: string) {
    const samples = { ...choices.value.samples };
    const merged = { ...samples[number], ...next };
    const said = Object.fromEntries(Object.entries(merged).filter(([, v]) => v !== undefined));
    if (Object.keys(said).length > 0) samples[number] = said;
    else delete samples[number];
    choose({ samples }, did);
  }

  /** Every sample with a sure pitch is put where it sounds. */
  const unplaced = computed(() =>
    (view.value?.samples ?? []).filter(
      (s) =>
        s.pitch !== null &&
        s.pitch.semitones !== 0 &&
        ['bass', 'lead', 'pad'].includes(s.role) &&
        choices.value.samples?.[s.number]?.transpose === undefined,
    ),
  );
  function placeAll() {
    const samples = { ...choices.value.samples };
    for (const s of unplaced.value)
      samples[s.number] = { ...samples[s.number], transpose: s.pitch!.semitones };
    choose({ samples }, `Put ${unplaced.value.length} samples where they sound`);
  }

  async function hear(sample: number, key: number) {
    const now = source.value;
    if (!now) return;
    problem.value = null;
    const request = {
      source: refOf(now),
      rate: RATE,
      between: between.value,
      softened: softened.value,
      one: { sample, key },
    };
    const found = await sideEngine().ask('moduleSound', request, () => undefined).result;
    if (found) await playing.hearSamples(found);
  }

  /** Its own sound becomes the recording of the job: heard beside the score, and delivered with it. */
  async function bringSound() {
    const now = source.value;
    if (!now || busy.value !== null) return;
    problem.value = null;
    busy.value = 'Mixing the module';
    try {
      const request = {
        source: refOf(now),
        rate: RATE,
        between: between.value,
        softened: softened.value,
      };
      const bytes = await soundEngine().ask('moduleWave', request, () => undefined).result;
      if (!bytes) return;
      const stem = now.name.replace(/\.(mod|s3m|xm|it)$/i, '').replace(/^(mod|s3m|xm|it)\./i, '');
      const file = new File([bytes as Uint8Array<ArrayBuffer>], `${stem}.wav`, {
        type: 'audio/wav',
      });
      await recording.bring(file);
    } catch (error) {
      problem.value = `The module could not be mixed: ${(error as Error).message}`;
    } finally {
      busy.value = null;
    }
  }

  /** Which of the two is heard while it plays: the module’s own sound (A), the score (B), or both. */
  const heard = computed<'a' | 'b' | 'both'>(() =>
    settings.levels.score === 0 ? 'a' : settings.levels.recording === 0 ? 'b' : 'both',
  );
  function hearAs(which: 'a' | 'b' | 'both') {
    settings.levels.score = which === 'a' ? 0 : 80;
    settings.levels.recording = which === 'b' ? 0 : 80;
  }

  return {
    source,
    view,
    ways,
    choices,
    problem,
    busy,
    between,
    softened,
    unplaced,
    heard,
    choose,
    chooseSample,
    placeAll,
    hear,
    bringSound,
    hearAs,
  };
});
