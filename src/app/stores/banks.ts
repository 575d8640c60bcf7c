import { computed, ref, shallowRef, watch } from 'vue';
import type { Player } from '../audio/player';
import {
  bankForAll,
  bankNamed,
  dropBank,
  keepBank,
  keptBanks,
  LARGEST_BANK_BYTES,
  setBankForAll,
} from '../storage/bank';
import { storageProblem } from '../storage/db';
import { useJob } from './job';

const shipped = async () => (await fetch('/sounds.sf2')).arrayBuffer();

/** Which sounds are heard: those that ship, or a bank of the user’s own, for a job or for all. */
export function makeBanks(
  player: Pick<Player, 'useBank'>,
  on: { problem(says: string): void; changed(): void },
) {
  const job = useJob();
  const kept = shallowRef<readonly string[]>([]);
  const forAll = ref<string | null>(null);
  /** What the synthesiser has; null for the bank that ships. */
  const name = ref<string | null>(null);
  let ready = false;

  const known = (async () => {
    kept.value = await keptBanks();
    forAll.value = await bankForAll();
  })();

  /** What this job says, else what stands for all. */
  const wanted = computed(() => {
    const own = job.record?.bank;
    return own === undefined ? forAll.value : own === '' ? null : own;
  });

  /** The bytes of the bank that is wanted; one that is not in this browser is said. */
  async function bytesWanted(): Promise<ArrayBuffer | null> {
    await known;
    const asked = wanted.value;
    const bank = asked === null ? null : await bankNamed(asked);
    if (asked !== null && !bank)
      on.problem(
        `The sound bank ${asked} is not in this browser: bring it under Sounds. Those that ship sound instead.`,
      );
    name.value = bank?.name ?? null;
    return bank?.bytes ?? null;
  }
  /** The player asks when it is made ready. */
  async function first(): Promise<ArrayBuffer | null> {
    const bytes = await bytesWanted();
    ready = true;
    return bytes;
  }
  function refused(why: string) {
    on.problem(
      `The sound bank ${name.value ?? ''} could not be read (${why}). Those that ship sound instead.`,
    );
    name.value = null;
  }

  // Another job, another choice: what sounds follows, once anything has sounded.
  watch(wanted, async (to) => {
    if (!ready || to === name.value) return;
    const bytes = (await bytesWanted()) ?? (await shipped());
    const why = await player.useBank(bytes);
    if (why !== null) refused(why);
    on.changed();
  });

  /** A bank of the user’s own: kept in the browser once it was read, and heard in this job. */
  async function take(file: File): Promise<string | null> {
    if (file.size > LARGEST_BANK_BYTES)
      return `${file.name}: it has ${file.size.toLocaleString('en-GB')} bytes; banks may have up to ${LARGEST_BANK_BYTES.toLocaleString('en-GB')}.`;
    const still = job.still();
    const bytes = await file.arrayBuffer();
    const why = await player.useBank(bytes.slice(0));
    if (why !== null) return `${file.name}: it is no sound bank that can be read (${why}).`;
    name.value = file.name;
    on.changed();
    try {
      await keepBank({ name: file.name, bytes });
      kept.value = await keptBanks();
      if (still()) await job.setBank(file.name);
    } catch (error) {
      return storageProblem(error, 'file');
    }
    return null;
  }

  /** What stands for every job that says nothing of its own. */
  async function choose(to: string | null, every: boolean): Promise<void> {
    if (every) {
      await setBankForAll(to);
      forAll.value = to;
      await job.setBank(undefined);
    } else await job.setBank(to ?? '');
  }

  async function drop(which: string): Promise<void> {
    await dropBank(which);
    kept.value = await keptBanks();
    forAll.value = await bankForAll();
    if (job.record?.bank === which) await job.setBank(undefined);
  }

  /** The bytes of what sounds now. */
  const bytesNow = async (): Promise<ArrayBuffer> => (await bytesWanted()) ?? (await shipped());

  return { kept, forAll, name, wanted, first, refused, take, choose, drop, bytesNow };
}
