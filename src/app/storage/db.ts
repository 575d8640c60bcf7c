import Dexie, { type EntityTable } from 'dexie';
import type { Evidence } from '../../core/target/evidence';
import type { KeptFormats } from '../../core/formats/own/kept';
import type { Receipt } from '../../core/handover/receipt';
import type { Target } from '../../core/target/schema';
import type { Recipe } from '../../core/plan/plan';
import type { SongSet } from '../../core/sets/set';
import type { SetReceipt } from '../../core/sets/set-receipt';
import { upgradeJob } from '../../core/plan/job-file';
import type { JobRecord, JobTally, PlanState } from './job';

export interface SourceRow {
  readonly sha256: string;
  readonly name: string;
  /** A recording is kept as the file that it came as: it need not pass through memory. */
  readonly bytes: ArrayBuffer | Blob;
  /** The formats of somebody's own that it was read by, as they were then. */
  readonly own?: KeptFormats;
}

export const bytesOf = async ({ bytes }: Pick<SourceRow, 'bytes'>): Promise<ArrayBuffer> =>
  bytes instanceof Blob ? bytes.arrayBuffer() : bytes;

/** What a source that is kept is read of, and how. */
export const openingOf = async (row: SourceRow, name = row.name) => ({
  bytes: await bytesOf(row),
  name,
  ...(row.own ? { own: [row.own] } : {}),
});

/** The states of a job that undo and redo go through, by target. */
export interface HistoryRow {
  readonly id: string;
  readonly plans: readonly {
    readonly targetId: string;
    readonly past: readonly PlanState[];
    readonly future: readonly PlanState[];
  }[];
}

export interface HandoverRow {
  readonly id: string;
  readonly jobId: string;
  readonly targetId: string;
  readonly number: number;
  readonly at: number;
  readonly receipt: Receipt;
  readonly pack: ArrayBuffer;
  readonly packName: string;
}

/** A target of the user's own. */
export interface TargetRow {
  readonly id: string;
  readonly target: Target;
  readonly changedAt: number;
  /** Paths of numbers that were learnt from files and not looked at since. */
  readonly learnt: readonly string[];
  /** What bounds among them rest on. */
  readonly evidence?: readonly Evidence[];
  /** The pack that it came in, with its examples. */
  readonly pack?: ArrayBuffer;
}

/** A recipe that is kept on the shelf. */
export interface RecipeRow {
  readonly id: string;
  readonly recipe: Recipe;
  readonly changedAt: number;
}

/** A small picture of a job, worked out and drawn anew when the job changes. */
export interface PictureRow {
  readonly id: string;
  /** The state of the job that it shows. */
  readonly of: string;
  /** Notes in each of equal stretches of clock time, from 0 to 9. */
  readonly density: readonly number[];
  /** The worst finding that begins there: 2 a stop, 1 a caution, 0 a remark, −1 none. */
  readonly marks: readonly number[];
  readonly tally: JobTally;
}

/** A set, with the states that undo and redo go through. */
export interface SetRow {
  readonly id: string;
  readonly set: SongSet;
  readonly past: readonly { readonly set: SongSet; readonly did: string }[];
  readonly future: readonly { readonly set: SongSet; readonly did: string }[];
  readonly changedAt: number;
}

/** A handover of a set: its receipt and, where it went out as a pack, that. */
export interface SetHandoverRow {
  readonly id: string;
  readonly setId: string;
  readonly number: number;
  readonly at: number;
  readonly receipt: SetReceipt;
  /** What each song went out as, by its row: SHA-256 of its files, to tell what changed since. */
  readonly songs: Readonly<Record<string, string>>;
  readonly into: string | null;
}

/** A folder that a set was once handed over into. */
export interface CardRow {
  readonly id: string;
  readonly name: string;
  readonly folder: FileSystemDirectoryHandle;
  readonly setId: string;
  readonly handover: number;
  readonly seenAt: number;
}

export interface SettingRow {
  readonly key: string;
  readonly value: unknown;
}

/** Everything that is kept, in the browser. Scores are never stored: they are made from sources. */
export class QuillDb extends Dexie {
  sources!: EntityTable<SourceRow, 'sha256'>;
  /** Without their histories, which are rows of their own. */
  jobs!: EntityTable<JobRecord, 'id'>;
  histories!: EntityTable<HistoryRow, 'id'>;
  handovers!: EntityTable<HandoverRow, 'id'>;
  settings!: EntityTable<SettingRow, 'key'>;
  targets!: EntityTable<TargetRow, 'id'>;
  recipes!: EntityTable<RecipeRow, 'id'>;
  pictures!: EntityTable<PictureRow, 'id'>;
  sets!: EntityTable<SetRow, 'id'>;
  setHandovers!: EntityTable<SetHandoverRow, 'id'>;
  cards!: EntityTable<CardRow, 'id'>;

  constructor(name = 'wary-quill') {
    super(name);
    this.version(1).stores({
      sources: 'sha256',
      jobs: 'id, changedAt',
      handovers: 'id, jobId, [jobId+targetId]',
      settings: 'key',
    });
    this.version(2).stores({ targets: 'id' });
    // Scopes count in the ticks of the base from here on; those of 0.2 keep their meaning.
    this.version(3).upgrade((change) =>
      change
        .table<JobRecord>('jobs')
        .toCollection()
        .modify((job, ref) => {
          ref.value = upgradeJob(job);
        }),
    );
    // What undo goes through is kept beside its job: a list of jobs does not read it.
    this.version(4)
      .stores({ histories: 'id' })
      .upgrade((change) =>
        change
          .table<JobRecord>('jobs')
          .toCollection()
          .modify((job, ref) => {
            const plans = job.plans.map(({ targetId, past, future }) => ({
              targetId,
              past,
              future,
            }));
            void change.table<HistoryRow>('histories').put({ id: job.id, plans });
            ref.value = { ...job, plans: job.plans.map((p) => ({ ...p, past: [], future: [] })) };
          }),
      );
    this.version(5).stores({ recipes: 'id', pictures: 'id' });
    this.version(6).stores({ sets: 'id', setHandovers: 'id, setId', cards: 'id, setId' });
  }
}

export const db = new QuillDb();

/** Longer than that no database takes to open that is not held up by another tab. */
const OPENING_MS = 4000;

/** Why nothing can be kept here, asked for once at the start; null where the database is open. */
export async function storageAtStart(): Promise<string | null> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise<'late'>((resolve) => {
    timer = setTimeout(() => resolve('late'), OPENING_MS);
  });
  try {
    const opened = await Promise.race([db.open().then(() => 'open' as const), late]);
    if (opened === 'open') return null;
    return (
      'The browser’s database does not open: another tab may hold it in an older version. ' +
      'Close the other tabs of Wary Quill, and load this page again.'
    );
  } catch {
    return (
      'The browser does not let Wary Quill keep data, so no job can be made here. ' +
      'Allow this page to store data, or leave the private window, and load it again.'
    );
  } finally {
    clearTimeout(timer);
  }
}

/**
 * Why nothing can be kept, in a sentence, and what to do: a change can still be saved with its job as
 * a file; a file that was dropped has to be dropped again.
 */
export function storageProblem(error: unknown, what: 'change' | 'file' = 'change'): string {
  const { name, inner } = (error ?? {}) as { name?: string; inner?: { name?: string } };
  const full = name === 'QuotaExceededError' || inner?.name === 'QuotaExceededError';
  const why = full
    ? 'The browser has no room left'
    : 'The browser does not let Wary Quill keep data';
  if (what === 'change') return `${why}, so this change is not kept. Save the job as a file.`;
  return full
    ? `${why} for this file. Remove jobs that are no longer needed, then drop it again.`
    : `${why}, so no job can be made of this file. Allow this page to store data, then drop it again.`;
}

/** Asks once that the data be kept when the machine runs short. */
export async function askToPersist(): Promise<void> {
  if (!navigator.storage?.persist) return;
  const asked = await db.settings.get('asked-to-persist');
  if (asked) return;
  const granted = await navigator.storage.persist();
  await db.settings.put({ key: 'asked-to-persist', value: granted });
}
