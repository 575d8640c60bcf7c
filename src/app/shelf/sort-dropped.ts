import { listed as list } from '../../core/target/words';
import { isModuleName, stemOf } from '../../core/smf/name';

/** What a file is to the desk; nothing of it is read here but the beginning of a JSON. */
export type DroppedKind = 'score' | 'recording' | 'job' | 'set' | 'target' | 'recipe' | 'unusable';

/** What is known of a file before it is read. */
export interface Outside {
  readonly name: string;
  readonly type: string;
  /** The text of a JSON file; null for all others, and where it is too long to be looked into. */
  readonly json: string | null;
  /** Ends as the files of a target of somebody's own do. */
  readonly ofOwn?: boolean;
}

export interface Sorted<F> {
  readonly scores: readonly F[];
  readonly recordings: readonly F[];
  readonly jobs: readonly F[];
  readonly sets: readonly F[];
  readonly targets: readonly F[];
  readonly recipes: readonly F[];
  readonly unusable: readonly { readonly name: string; readonly why: string }[];
}

const SCORE = /\.(mid|midi|smf|rmi|kar|csv|vtt)$/i;
const SOUND = /\.(wav|wave|flac|mp3|ogg|oga|opus|m4a|aac)$/i;
const JOB = /\.(quilljob|zip)$/i;

/** What a file is, and why it is of no use where it is none of these. */
export function kindOf({ name, type, json, ofOwn }: Outside): { kind: DroppedKind; why?: string } {
  if (/^receipt\.(json|html)$/i.test(name))
    return { kind: 'unusable', why: 'it is the receipt of a handover' };
  if (isModuleName(name)) return { kind: 'score' };
  if (SOUND.test(name) || (type.startsWith('audio/') && !/midi?/.test(type)))
    return { kind: 'recording' };
  if (SCORE.test(name) || /midi?$/.test(type)) return { kind: 'score' };
  if (JOB.test(name)) return { kind: 'job' };
  if (/\.quillset$/i.test(name)) return { kind: 'set' };
  if (/\.quilltarget$/i.test(name)) return { kind: 'target' };
  if (/\.json$/i.test(name)) return kindOfJson(json, ofOwn);
  if (ofOwn) return { kind: 'score' };
  if (/\.(sf2|sf3|dls)$/i.test(name))
    return { kind: 'unusable', why: 'sounds are brought in at the volume of the pulse' };
  // What has no ending may be a score: its bytes tell.
  if (!/\.[^.]{1,10}$/.test(name)) return { kind: 'score' };
  return { kind: 'unusable', why: 'it is no kind of file that the desk reads' };
}

function kindOfJson(json: string | null, ofOwn = false): { kind: DroppedKind; why?: string } {
  if (json === null) return { kind: 'score' };
  let data: unknown;
  try {
    data = JSON.parse(json);
  } catch {
    return { kind: 'unusable', why: 'it is not JSON' };
  }
  const keys = typeof data === 'object' && data !== null ? (data as Record<string, unknown>) : {};
  if (keys['format'] !== undefined) return { kind: 'score' };
  if (keys['recipeVersion'] !== undefined) return { kind: 'recipe' };
  if (keys['schemaVersion'] !== undefined && keys['seats'] !== undefined) return { kind: 'target' };
  if (ofOwn) return { kind: 'score' };
  return { kind: 'unusable', why: 'it is neither a chart, nor a target, nor a recipe' };
}

export function sortDropped<F>(files: readonly F[], outside: (file: F) => Outside): Sorted<F> {
  const out: Record<Exclude<DroppedKind, 'unusable'>, F[]> = {
    score: [],
    recording: [],
    job: [],
    set: [],
    target: [],
    recipe: [],
  };
  const unusable: { name: string; why: string }[] = [];
  for (const file of files) {
    const looks = outside(file);
    const { kind, why = '' } = kindOf(looks);
    if (kind === 'unusable') unusable.push({ name: looks.name, why });
    else out[kind].push(file);
  }
  return {
    scores: out.score,
    recordings: out.recording,
    jobs: out.job,
    sets: out.set,
    targets: out.target,
    recipes: out.recipe,
    unusable,
  };
}

export type Page = 'job' | 'fit' | 'recipes' | 'set' | 'other';

/** Where the drop came down. */
export interface Where {
  readonly page: Page;
  /** Another tab has the open job. */
  readonly readOnly: boolean;
  /** A recipe is chosen on the page of recipes. */
  readonly recipe: boolean;
}

/**
 * What is done with a drop. Jobs, targets and recipes are put where they belong, wherever they came
 * down; the rest depends on the page.
 */
export interface DropAnswer<F> {
  /** `ask-job`: what they are to the open job; `ask-many`: what several are; `one`: a job of its own. */
  readonly scores: 'none' | 'one' | 'ask-many' | 'ask-job' | 'fit' | 'set' | 'recipe' | 'no-recipe';
  /** What goes beside the open job, or the one that is made. */
  readonly recording: F | null;
  /** Recordings of which each has a score of its name. */
  readonly pairs: ReadonlyMap<F, F>;
  /** What is left lying, in whole sentences; one for each reason. */
  readonly says: readonly string[];
}

/** What is said of further recordings for one job. */
export const ONE_BESIDE = 'a job has one recording beside it. Drop the one that is meant.';

const soundStem = (name: string) => name.replace(/\.[^.]+$/, '').toLowerCase();
export function answerFor<F>(
  sorted: Sorted<F>,
  { page, readOnly, recipe }: Where,
  nameOf: (file: F) => string,
): DropAnswer<F> {
  const { scores, recordings, jobs, sets, targets, recipes, unusable } = sorted;
  const says: string[] = [];
  const pairs = new Map<F, F>();
  let recording: F | null = null;
  const leave = (files: readonly F[], why: string) => {
    if (files.length > 0) says.push(`${list(files.map(nameOf))}: ${why}`);
  };
  if (page === 'job') {
    if (readOnly)
      leave(recordings, 'this job is open in another tab. Bring the recording in there.');
    else {
      recording = recordings[0] ?? null;
      leave(recordings.slice(1), ONE_BESIDE);
    }
  } else if (page === 'fit' || page === 'recipes' || page === 'set')
    leave(recordings, 'a recording goes beside a job. Open the job, and drop it there.');
  else if (scores.length === 0)
    leave(
      recordings,
      'a recording plays beside a score. Drop the MIDI file first and then the recording on it, or both together.',
    );
  else if (scores.length === 1) {
    recording = recordings[0] ?? null;
    leave(recordings.slice(1), ONE_BESIDE);
  } else {
    const free = new Map(scores.map((s) => [stemOf(nameOf(s)).toLowerCase(), s]));
    const alone: F[] = [];
    for (const sound of recordings) {
      const score = free.get(soundStem(nameOf(sound)));
      if (score !== undefined && !pairs.has(score)) pairs.set(score, sound);
      else alone.push(sound);
    }
    if (recordings.length === 1 && alone.length === 1) recording = alone[0]!;
    else leave(alone, 'no score of that name came along. Open its job, and drop it there.');
  }
  if (unusable.length > 0) says.push(sayUnusable(unusable));
  const any =
    scores.length + recordings.length + jobs.length + sets.length + targets.length + recipes.length;
  if (any + unusable.length === 0)
    says.push(
      'Nothing was dropped that the desk reads: no score, recording, job, target or recipe.',
    );
  const onJob = scores.length === 0 ? 'none' : ('ask-job' as const);
  const inNew = scores.length === 0 ? 'none' : scores.length === 1 ? 'one' : ('ask-many' as const);
  const tried = scores.length === 0 ? 'none' : ('fit' as const);
  const through = scores.length === 0 ? 'none' : recipe ? ('recipe' as const) : 'no-recipe';
  if (through === 'no-recipe' && page === 'recipes')
    says.push(`${list(scores.map(nameOf))}: choose the recipe first that they are for.`);
  return {
    scores: {
      job: onJob,
      fit: tried,
      recipes: through,
      set: scores.length === 0 ? 'none' : 'set',
      other: inNew,
    }[page] as never,
    recording,
    pairs,
    says,
  };
}

/** One sentence for all that cannot be used, however many there are. */
export function sayUnusable(
  unusable: readonly { readonly name: string; readonly why: string }[],
): string {
  const byWhy = new Map<string, string[]>();
  for (const { name, why } of unusable) byWhy.set(why, [...(byWhy.get(why) ?? []), name]);
  const parts = [...byWhy].map(([why, names]) => `${list(names)} (${why})`);
  return `Not taken: ${list(parts, 4)}.`;
}
