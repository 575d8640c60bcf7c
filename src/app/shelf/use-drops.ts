import { until } from '@vueuse/core';
import { computed, shallowRef } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { useLeadOn } from '../kit/use-lead-on';
import { useFit } from '../stores/fit';
import { useJob } from '../stores/job';
import { useRecipes } from '../stores/recipes';
import { useRecording } from '../stores/recording';
import { useNewerExports } from '../stores/newer-exports';
import { useSet } from '../stores/set';
import { useSets } from '../stores/sets';
import { useShelf } from '../stores/shelf';
import { useTargets } from '../stores/targets';
import type { DroppedFiles } from './dropped-files';
import { answerFor, sortDropped, type DropAnswer, type Page } from './sort-dropped';

/** Scores that wait for an answer: what they are to the open job, or what several are. */
export interface AskedDrop {
  /** Tells it from others, also of the same files. */
  readonly nth: number;
  readonly ask: 'ask-job' | 'ask-many';
  readonly files: readonly File[];
  readonly answer: DropAnswer<File>;
}

/** A JSON that is larger is no target and no recipe. */
const LONGEST_JSON = 20_000_000;

/** One way for all that is dropped or chosen, wherever; several drops wait for each other. */
export function useDrops() {
  const shelf = useShelf();
  const job = useJob();
  const recording = useRecording();
  const recipes = useRecipes();
  const targets = useTargets();
  const route = useRoute();
  const router = useRouter();
  const leadOn = useLeadOn();
  const waiting = shallowRef<readonly AskedDrop[]>([]);
  const asked = computed(() => waiting.value[0] ?? null);
  let asks = 0;
  const ask = (drop: Omit<AskedDrop, 'nth'>) =>
    (waiting.value = [...waiting.value, { ...drop, nth: ++asks }]);
  const answered = () => (waiting.value = waiting.value.slice(1));

  const page = (): Page => {
    if (route.name === 'job' && job.record) return 'job';
    if (route.name === 'set' && useSet().set) return 'set';
    return route.name === 'fit' || route.name === 'recipes' ? route.name : 'other';
  };

  async function take({ files, skipped = 0 }: DroppedFiles): Promise<void> {
    const lead = leadOn();
    await targets.load();
    const texts = new Map<File, string>();
    for (const file of files)
      if (/\.json$/i.test(file.name) && file.size <= LONGEST_JSON)
        texts.set(file, await file.text().catch(() => ''));
    const sorted = sortDropped(files, (file) => ({
      name: file.name,
      type: file.type,
      json: texts.get(file) ?? null,
      ofOwn: targets.ofOwn.has(/\.[^.]+$/.exec(file.name)?.[0].toLowerCase() ?? ''),
    }));
    const where = { page: page(), readOnly: job.readOnly, recipe: recipes.row !== null };
    const still = job.still();
    const answer = answerFor(sorted, where, (f) => f.name);
    for (const says of answer.says) shelf.problems.push(says);
    if (skipped > 0 && files.length > 0)
      shelf.problems.push(
        `Of the folder ${skipped.toLocaleString('en-GB')} ${skipped === 1 ? 'file was' : 'files were'} left: no kind that the desk reads, or more than 2,000.`,
      );
    const opened = await putAway(sorted);
    if (answer.recording && where.page === 'job') {
      if (still()) await recording.bring(answer.recording);
      else
        shelf.problems.push(
          `${answer.recording.name}: the job was left before it was read. Drop it there again.`,
        );
    }
    switch (answer.scores) {
      case 'ask-job':
        ask({ ask: 'ask-job', files: sorted.scores, answer });
        return;
      case 'ask-many': {
        // What cannot be read is said before anything is asked of the others.
        const read = await shelf.readable(sorted.scores);
        if (read.length > 1) ask({ ask: 'ask-many', files: read, answer });
        else if (read[0]) await makeOne(read[0], answer.pairs.get(read[0]) ?? answer.recording);
        return;
      }
      case 'fit':
        return useFit().take([...sorted.scores]);
      case 'set':
        return useNewerExports().take([...sorted.scores]);
      case 'recipe':
        return recipes.take([...sorted.scores]);
      case 'one':
        await makeOne(sorted.scores[0]!, answer.recording);
        return;
      default:
        if (opened) await lead(opened);
    }
  }

  /** Jobs, targets and recipes go where they belong. @returns what to show, where one alone came */
  async function putAway({
    jobs,
    sets,
    targets: ofTargets,
    recipes: ofRecipes,
  }: ReturnType<typeof sortDropped<File>>): Promise<string | null> {
    const made = await shelf.dropFiles(jobs);
    let shows = made.length === 1 && jobs.length === 1 ? `/job/${made[0]}/proof` : null;
    for (const file of sets) {
      const id = await useSets().bring(file);
      if (id) shows ??= `/sets/${id}`;
    }
    for (const file of ofTargets) {
      const result = await targets.takeFile(file);
      if ('id' in result) shows ??= `/targets/${result.id}`;
      else
        shelf.problems.push(
          `${file.name}: ${result.problems
            .slice(0, 3)
            .map((p) => `${p.path ? `${p.path}: ` : ''}${p.says}`)
            .join(' ')}`,
        );
    }
    if (ofRecipes.length > 0) await recipes.take([...ofRecipes]);
    // A job that is open stays open: what came is on the shelf.
    const one = jobs.length + sets.length + ofTargets.length === 1 && page() !== 'job';
    return one ? shows : null;
  }

  async function makeOne(file: File, sound: File | null) {
    const lead = leadOn();
    const [id] = await shelf.dropFiles([file]);
    if (id && sound) await openWith(id, sound);
    else if (id) await lead(`/job/${id}/intake`);
  }

  /** Opens a job that was just made, with the recording that came along. */
  async function openWith(id: string, sound: File) {
    await router.push(`/job/${id}/intake`);
    await until(() => job.record?.id).toBe(id);
    await recording.bring(sound);
  }

  return { take, asked, answered, openWith };
}
