import { computed, onScopeDispose, ref, shallowRef, watch } from 'vue';
import type { ModuleChoices, SampleChoice } from '../../core/sources/module/choices';
import type { JobSource } from '../../core/plan/job-file';
import { stemOf } from '../../core/smf/name';
import { refOf } from '../../core/sources/which';
import type { ModuleView, ModuleWay } from '../../core/wire/module-view';
import type { RunningCall } from '../../worker/client';
import { sideEngine, soundEngine } from './engine';
import { useJob } from './job';
import { defineJobPart } from './job/job-part';
import type { Busy } from './job/session';
import { usePlaying } from './playing';
import { useRecording } from './recording';

const RATE = 48_000;
/** Hard left and right are taken back so far, where nothing else is wished. */
const SOFTENED = 0.3;

/** What its own sound is called, as a recording; a further song of it by its number too. */
const soundName = ({ name, sequence = 0 }: JobSource) =>
  `${stemOf(name)}-module${sequence === 0 ? '' : `-${sequence + 1}`}.wav`;
const isSame = (a: JobSource, b: JobSource) =>
  a.sha256 === b.sha256 && soundName(a) === soundName(b);

/** The module that is looked at in Intake: what is in it, how it is read, its own sound. */
export const useModule = defineJobPart(() => {
  const job = useJob();
  const playing = usePlaying();
  const recording = useRecording();
  const view = shallowRef<ModuleView | null>(null);
  const ways = shallowRef<readonly ModuleWay[]>([]);
  const problem = ref<string | null>(null);
  const busy = ref<Busy | null>(null);

  const source = computed(
    () =>
      job.sourcesNow.find((f) => job.sources.get(f.key) === job.source && job.source?.module) ??
      null,
  );
  const choices = computed<ModuleChoices>(() => source.value?.reading ?? {});
  const between = ref<'cubic' | 'linear'>('cubic');

  let asking: RunningCall<unknown> | null = null;
  onScopeDispose(() => {
    asking?.cancel();
    // What is mixed for a job that was left is for nobody.
    busy.value?.cancel();
  });
  watch(
    source,
    async (now, before) => {
      asking?.cancel();
      asking = null;
      problem.value = null;
      if (now?.sha256 !== before?.sha256) view.value = null;
      ways.value = [];
      if (!now) return;
      const ask = <K extends 'moduleInfo' | 'moduleWays'>(what: K) => {
        const call = sideEngine().ask(what, refOf(now));
        asking = call;
        return call.result.then((value) => (asking === call ? value : null));
      };
      try {
        const found = await ask('moduleInfo');
        if (!found) return;
        view.value = found;
        const given = await ask('moduleWays');
        if (given) ways.value = given;
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
    try {
      const request = { source: refOf(now), sample, key, rate: RATE };
      const found = await sideEngine().ask('moduleSound', request).result;
      if (found) await playing.hearSamples(found);
    } catch (error) {
      problem.value = `The sample could not be heard: ${(error as Error).message}`;
    }
  }

  /** Its own sound becomes the recording of the job: heard beside the score, and delivered with it. */
  async function bringSound() {
    const now = source.value;
    if (!now || busy.value !== null) return;
    problem.value = null;
    const request = {
      source: refOf(now),
      rate: RATE,
      between: between.value,
      softened: SOFTENED,
    };
    const call = soundEngine().ask('moduleWave', request, (done, total) => {
      if (busy.value) busy.value = { ...busy.value, done, total };
    });
    busy.value = { says: 'Mixing the module', done: 0, total: 1, cancel: call.cancel };
    try {
      const made = await call.result;
      if (made && 'problem' in made) problem.value = made.problem;
      // The job may have been left meanwhile, or another song chosen.
      else if (made && source.value && isSame(source.value, now))
        await recording.bring(
          new File([made.bytes as Uint8Array<ArrayBuffer>], soundName(now), {
            type: 'audio/wav',
          }),
        );
    } catch (error) {
      problem.value = `The module could not be mixed: ${(error as Error).message}`;
    } finally {
      busy.value = null;
    }
  }
  /** The recording beside the score is its own sound. */
  const hasOwnSound = computed(
    () => source.value !== null && job.record?.sound?.name === soundName(source.value),
  );

  /** The recording beside the score is the sound of another of its songs: which, from 1. */
  const soundOfSong = computed(() => {
    const now = source.value;
    const name = job.record?.sound?.name;
    if (!now || name === undefined || hasOwnSound.value) return null;
    const songs = Array.from({ length: view.value?.songs ?? 1 }, (_, i) => i);
    const other = songs.find((sequence) => soundName({ ...now, sequence }) === name);
    return other === undefined ? null : other + 1;
  });

  return {
    source,
    view,
    ways,
    choices,
    problem,
    busy,
    between,
    unplaced,
    hasOwnSound,
    soundOfSong,
    choose,
    chooseSample,
    placeAll,
    hear,
    bringSound,
  };
});
