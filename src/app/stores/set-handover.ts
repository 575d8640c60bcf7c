import { defineStore } from 'pinia';
import { computed, ref, shallowRef, toRaw } from 'vue';
import { packFiles } from '../../core/outputs/pack';
import { CardProblem } from '../../core/sets/card-folder';
import type { CardComparison } from '../../core/sets/compare-card';
import { MANIFEST, type Manifest, writeManifest } from '../../core/sets/manifest';
import { wantedSongs, type WantedSong } from '../../core/sets/layout';
import { songsOnCard } from '../../core/sets/on-card';
import { makeSetReceipt } from '../../core/sets/set-receipt';
import { readCard, sayBytes, writeCard, type CardWritten } from '../../core/sets/write-card';
import { count } from '../../core/target/words';
import type { CardSongReply, SongReply } from '../../worker/protocol';
import { BrowserCard } from '../storage/browser-card';
import { db, storageProblem, type CardRow } from '../storage/db';
import { canWriteFolders, chooseFolder } from '../storage/folder';
import { newKey, type JobRecord } from '../storage/job';
import { readJob } from '../storage/jobs';
import { saveFile } from '../storage/save-file';
import { engine, sideEngine } from './engine';
import { fileStem } from './handover';
import { bytesWord, type SongLine, useSet } from './set';
import { useSets } from './sets';
import { useShelf } from './shelf';
import { useTargets } from './targets';
import { planFor, songRequest } from './set/song-request';
import { sideBySide } from './side-by-side';

const sha256 = async (bytes: Uint8Array): Promise<string> => {
  const hash = await crypto.subtle.digest('SHA-256', bytes as Uint8Array<ArrayBuffer>);
  return Array.from(new Uint8Array(hash), (b) => b.toString(16).padStart(2, '0')).join('');
};
const today = () => new Date().toISOString().slice(0, 10);

interface Made {
  readonly songs: ReadonlyMap<string, SongReply>;
  readonly wanted: readonly WantedSong[];
  readonly notHandedOver: readonly { readonly title: string; readonly because: string }[];
}

/** A folder as it lies there, held against the set: shown before anything is written. */
export interface Looked {
  readonly card: BrowserCard;
  readonly row: CardRow | null;
  readonly manifest: Manifest | null;
  readonly comparison: CardComparison;
  readonly made: Made;
  /** It was written from another set. */
  readonly foreign: boolean;
}

/** A song of a card, as its device plays it from there. */
export interface OnCard {
  readonly key: string;
  readonly title: string;
  readonly target: string;
  readonly contradicts: readonly string[];
  readonly played: CardSongReply | null;
}

/** A set as it goes out: as a pack, or into a folder of which only what changed is written. */
export const useSetHandover = defineStore('set-handover', () => {
  const open = useSet();
  const problem = ref<string | null>(null);
  const busy = ref<{ says: string; done: number; total: number } | null>(null);
  const looked = shallowRef<Looked | null>(null);
  const written = shallowRef<{ readonly says: string; readonly done: CardWritten } | null>(null);
  const onCard = shallowRef<readonly OnCard[] | null>(null);
  const cards = shallowRef<readonly CardRow[]>([]);
  const name = ref('');
  const removeGone = ref(false);
  const overTheirs = ref<readonly string[]>([]);
  let givenUp = false;
  let making: { cancel(): void } | null = null;

  function cancel() {
    givenUp = true;
    making?.cancel();
  }

  const blocked = computed(
    () =>
      open.findings.find(
        (f) => f.severity === 'stop' && (f.rule === 'same-file' || f.rule === 'card-names'),
      ) ?? null,
  );

  async function loadCards() {
    const id = open.set?.id;
    cards.value = id ? await db.cards.where('setId').equals(id).toArray() : [];
  }

  /** Writes, reads back and rehearses every song, one after the other; null where it was given up. */
  async function makeAll(): Promise<Made | null> {
    problem.value = null;
    written.value = null;
    givenUp = false;
    const songs = new Map<string, SongReply>();
    const notHandedOver: { title: string; because: string }[] = [];
    const lines = open.lines.filter((l) => !l.row.aside);
    let done = 0;
    const because = new Map<SongLine, string>();
    const all = sideBySide(lines, async (line, { engine, answer }) => {
      busy.value = { says: `Making ${line.title}`, done, total: lines.length };
      const request = line.job && (await songRequest(line.job, line.row));
      if (givenUp) return;
      if (!request) because.set(line, line.problem ?? 'Its job is gone');
      else
        try {
          const reply = await answer(engine.ask('song', request));
          if (reply) songs.set(line.row.key, reply);
          // The worker cannot be given its source any more.
          else if (!givenUp) because.set(line, 'Its file is not kept any more');
        } catch (error) {
          because.set(line, (error as Error).message);
        }
      done++;
    });
    making = all;
    await all.done;
    if (givenUp) return null;
    for (const line of lines)
      if (because.has(line)) notHandedOver.push({ title: line.title, because: because.get(line)! });
    const known = new Map(
      lines.flatMap((l) => {
        const reply = songs.get(l.row.key);
        return reply ? [[l.row.key, { title: l.title, facts: reply.facts }] as const] : [];
      }),
    );
    return { songs, wanted: open.set ? wantedSongs(open.set, known) : [], notHandedOver };
  }

  /** Songs of the set that could not be made: what a card has of them stays. */
  const unmadeIn = (made: Made): ReadonlySet<string> =>
    new Set(
      open.lines.flatMap((l) => (l.row.aside || made.songs.has(l.row.key) ? [] : [l.row.key])),
    );

  const bytesIn = (made: Made) => async (song: WantedSong, file: { path: string }) =>
    made.songs.get(song.key)!.files.find((f) => `${song.folder}${f.path}` === file.path)!.bytes;

  function receiptOf(
    made: Made,
    standing: ReadonlyMap<string, string> | null,
    done: CardWritten | null,
    card: string | null,
  ) {
    const targets = open.lines.flatMap((l) => (l.job ? [planFor(l.job, l.row)?.target] : []));
    return makeSetReceipt(
      {
        set: open.set!.title,
        card,
        songs: open.lines.flatMap((l) => {
          const reply = made.songs.get(l.row.key);
          const target = l.job && planFor(l.job, l.row)?.target;
          if (!reply || !target) return [];
          const { facts, receipt } = reply;
          return [
            {
              title: l.title,
              target: target.name,
              standing: standing?.get(l.row.key) ?? null,
              facts,
              receipt,
            },
          ];
        }),
        notHandedOver: made.notHandedOver,
        findings: open.findings,
        checklist: [...new Set(targets.flatMap((t) => t?.checklist ?? []))],
      },
      done,
    );
  }

  async function keep(
    made: Made,
    number: number,
    receipt: ReturnType<typeof receiptOf>,
    into: string | null,
  ) {
    const setId = open.set!.id;
    await db.setHandovers.put({
      id: `${setId}/${number}`,
      setId,
      number,
      at: Date.now(),
      receipt,
      songs: Object.fromEntries([...made.songs].map(([key, s]) => [key, bytesWord(s.facts)])),
      into,
    });
  }
  const nextNumber = () => (open.handovers[0]?.number ?? 0) + 1;

  async function working<T>(work: () => Promise<T>): Promise<T | null> {
    if (busy.value) return null;
    busy.value = { says: 'Looking at the set', done: 0, total: 1 };
    try {
      return await work();
    } catch (error) {
      problem.value = error instanceof CardProblem ? error.message : storageProblem(error);
      return null;
    } finally {
      busy.value = null;
    }
  }

  /** All files, with the receipt and the manifest, as one download. */
  const asPack = () =>
    working(async () => {
      const made = await makeAll();
      const set = open.set;
      if (!made || !set || made.songs.size === 0) return;
      const number = nextNumber();
      const receipt = receiptOf(made, null, null, null);
      const manifest = writeManifest({
        format: 'quill-manifest',
        version: 1,
        set: { id: set.id, title: set.title },
        card: '',
        handover: number,
        written: today(),
        songs: made.wanted.map((w) => ({ ...w, files: [...w.files] })),
      });
      const files = made.wanted.flatMap((w) =>
        made.songs.get(w.key)!.files.map((f) => ({ path: `${w.folder}${f.path}`, bytes: f.bytes })),
      );
      const receipts = await engine().plain.setReceipt(receipt);
      const pack = packFiles([
        ...files,
        { path: MANIFEST, bytes: manifest },
        ...receipts.map((f) => ({ ...f, path: `quill-receipt/${f.path}` })),
      ]);
      await keep(made, number, receipt, null);
      saveFile(pack, `${fileStem(set.title)}-${number}.zip`, 'application/zip');
    });

  /** Chooses a folder, or takes one that is known, and shows what is there; nothing is written. */
  async function lookInto(known: CardRow | null) {
    if (!canWriteFolders()) return;
    const handle = known?.folder ?? (await chooseFolder());
    if (!handle) return;
    await working(async () => {
      const card = new BrowserCard(handle);
      await card.allow();
      const made = await makeAll();
      if (!made) return;
      busy.value = { says: `Reading ${card.name}`, done: 0, total: 1 };
      const { manifest, comparison } = await readCard(card, made.wanted, sha256, {
        set: open.set?.id ?? '',
        unmade: unmadeIn(made),
        report: (done, total) => (busy.value = { says: `Reading ${card.name}`, done, total }),
      });
      const row = known ?? (await sameFolder(handle));
      name.value = manifest?.card || row?.name || card.name;
      removeGone.value = false;
      overTheirs.value = [];
      const foreign = manifest !== null && manifest.set.id !== open.set?.id;
      onCard.value = null;
      looked.value = { card, row, manifest, comparison, made, foreign };
    });
  }

  /** The songs of the card, each with its files as they lie there. */
  async function songsThere({ card, manifest }: Looked) {
    const files = new Map<string, Uint8Array>();
    const hashes = new Map<string, string>();
    const there = new Set((await card.list()).map((f) => f.path));
    for (const { path } of manifest?.songs.flatMap((s) => s.files) ?? []) {
      if (!there.has(path)) continue;
      const bytes = await card.read(path);
      files.set(path, bytes);
      hashes.set(path, await sha256(bytes));
    }
    return manifest ? songsOnCard(manifest, files, hashes) : [];
  }

  /** Rehearses the card itself, song by song. */
  const rehearseCard = () =>
    working(async () => {
      const now = looked.value;
      if (!now) return;
      busy.value = { says: `Rehearsing ${now.card.name}`, done: 0, total: 1 };
      const songs = await songsThere(now);
      const of = (id: string) => useTargets().find(id);
      const known = songs.flatMap((s) => {
        const target = of(s.target);
        return target ? [{ key: s.key, target: toRaw(target), files: s.files }] : [];
      });
      const replies = await sideEngine().ask('cardSongs', known).result;
      const by = new Map(replies?.map((r) => [r.key, r]));
      onCard.value = songs.map(({ key, title, target, contradicts }) => ({
        key,
        title,
        target: of(target)?.name ?? `${target} (not on the shelf)`,
        contradicts: contradicts.map((c) => `${c.file}: ${c.says}`),
        played: by.get(key) ?? null,
      }));
    });

  /** The songs of the card as jobs, in a set of their own; its id. */
  const readIn = () =>
    working(async (): Promise<string | null> => {
      const now = looked.value;
      if (!now?.manifest) return null;
      const shelf = useShelf();
      const jobs = [];
      for (const song of await songsThere(now)) {
        const job = await jobOf(song.files, song.target);
        if (job) jobs.push(job);
        else shelf.problems.push(`${song.title}: no file of it on the card can be read in.`);
      }
      return useSets().make(`${now.manifest.card} as it lies there`, jobs);
    });

  /** A job of files of a card: of the MIDI among them, else of what our readers take. */
  async function jobOf(
    files: readonly { readonly path: string; readonly bytes: Uint8Array }[],
    targetId: string,
  ): Promise<JobRecord | null> {
    const shelf = useShelf();
    const file =
      files.find((f) => /\.midi?$/i.test(f.path)) ??
      files.find((f) => /\.(json|csv|vtt)$/i.test(f.path));
    if (!file) return null;
    const name = file.path.split('/').at(-1)!;
    const sha256 = await shelf.takeSource({ name, bytes: file.bytes.slice().buffer });
    if (!sha256) return null;
    const made = await shelf.addJobFor({ sha256, name }, useTargets().find(targetId) ?? null);
    return (await readJob(made)) ?? null;
  }

  /** What somebody changed of a song on the card becomes a job beside ours; its id. */
  const bringTheirs = (key: string) =>
    working(async (): Promise<string | null> => {
      const now = looked.value;
      const song = now?.comparison.songs.find((s) => s.key === key);
      const wanted = now?.made.wanted.find((w) => w.key === key);
      if (!now || !song || !wanted) return null;
      const files = [];
      for (const { at } of song.theirs) files.push({ path: at, bytes: await now.card.read(at) });
      const job = await jobOf(files, wanted.target);
      if (!job) throw new CardProblem(`${song.title}: no file of theirs can be read in.`);
      return job.id;
    });

  async function sameFolder(handle: FileSystemDirectoryHandle): Promise<CardRow | null> {
    for (const row of await db.cards.toArray())
      if (await row.folder.isSameEntry(handle).catch(() => false)) return row;
    return null;
  }

  /** Writes what is new and changed into the folder that was looked at. */
  const write = () =>
    working(async () => {
      const now = looked.value;
      const set = open.set;
      if (!now || !set) return;
      givenUp = false;
      const done = await writeCard(now.card, {
        set,
        card: name.value.trim() || now.card.name,
        day: today(),
        wanted: now.made.wanted,
        unmade: unmadeIn(now.made),
        bytesOf: bytesIn(now.made),
        removeGone: removeGone.value,
        overTheirs: new Set(overTheirs.value),
        sha256,
        report: (at, total) =>
          (busy.value = { says: `Writing to ${now.card.name}`, done: at, total }),
        givenUp: () => givenUp,
      });
      const standing = new Map(now.comparison.songs.map((s) => [s.key, s.standing]));
      if (done.handover !== null) {
        const number = nextNumber();
        await keep(now.made, number, receiptOf(now.made, standing, done, name.value), name.value);
      }
      await db.cards.put({
        id: now.row?.id ?? newKey(),
        name: name.value.trim() || now.card.name,
        folder: now.row?.folder ?? now.card.root,
        setId: set.id,
        handover: done.handover ?? now.manifest?.handover ?? 1,
        seenAt: Date.now(),
      });
      await loadCards();
      looked.value = null;
      written.value = {
        done,
        says:
          done.handover === null
            ? `${name.value} holds the set already: nothing was written.`
            : `${count(done.written.length, 'file')} written (${sayBytes(done.bytes)}), ${done.removed.length} removed on ${name.value}.`,
      };
    });

  /** The receipt of a handover as a page of its own. */
  async function readReceipt(number: number) {
    const row = open.handovers.find((h) => h.number === number);
    if (!row) return;
    saveFile(
      packFiles(await engine().plain.setReceipt(row.receipt)),
      `${fileStem(open.set!.title)}-receipt-${number}.zip`,
      'application/zip',
    );
  }

  /** Takes out what is known of a card: the card itself stays as it is. */
  async function forgetCard(id: string) {
    await db.cards.delete(id);
    await loadCards();
  }

  return {
    problem,
    busy,
    looked,
    onCard,
    rehearseCard,
    readIn,
    bringTheirs,
    written,
    cards,
    name,
    removeGone,
    overTheirs,
    blocked,
    loadCards,
    asPack,
    lookInto,
    write,
    cancel,
    readReceipt,
    forgetCard,
    canWrite: canWriteFolders(),
  };
});
