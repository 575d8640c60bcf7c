import { CardProblem } from '../../core/sets/card-folder';
import { wantedSongs } from '../../core/sets/layout';
import { makeSetReceipt } from '../../core/sets/set-receipt';
import { setReceiptFiles } from '../../core/sets/set-receipt-page';
import { readCard, sayBytes, writeCard } from '../../core/sets/write-card';
import { count, listed } from '../../core/target/words';
import { Unusable, print, sha256, writeOutput } from '../files';
import { type Status, worse } from '../proofing';
import { join } from 'node:path';
import { NodeCard } from './node-card';
import type { OpenSet } from './opened';
import type { SetOptions } from './options';
import { type Looked, lookAt, sayLooked, songJson, statusFor } from './look-at';

/** Songs of which nothing could be made: what a card has of them stays. */
const unmadeOf = ({ songs }: Looked): ReadonlySet<string> =>
  new Set(songs.flatMap((s) => (s.made ? [] : [s.key])));

const today = () => new Date().toISOString().slice(0, 10);

export async function handOverSet(open: OpenSet, options: SetOptions): Promise<Status> {
  if (options.out === undefined)
    throw new Unusable('A folder is needed: --out with the card or the folder.');
  const looked = await lookAt(open);
  const inTheWay = looked.findings.filter(
    (f) => f.severity === 'stop' && (f.rule === 'same-file' || f.rule === 'card-names'),
  );
  if (inTheWay.length > 0) {
    sayLooked(open, looked, null);
    throw new Unusable(`${open.path}: ${inTheWay[0]!.says} Nothing was written.`);
  }
  const folder = new NodeCard(options.out);
  const wanted = wantedSongs(open.set, looked.known);
  const unmade = unmadeOf(looked);
  const bytes = new Map(
    looked.songs.flatMap((s) => s.made?.files.map((f) => [`${s.key} ${f.path}`, f.bytes]) ?? []),
  );
  const bare = new Map(
    wanted.flatMap((w) =>
      w.files.map((f, i) => [`${w.key} ${f.path}`, looked.known.get(w.key)!.facts.files[i]!.path]),
    ),
  );
  try {
    const { manifest, comparison } = await readCard(folder, wanted, async (b) => sha256(b), {
      set: open.set.id,
      unmade,
    });
    if (manifest && manifest.set.id !== open.set.id && !options.force)
      throw new Unusable(
        `${options.out}: this is “${manifest.card}”, written ${manifest.written} from the set “${manifest.set.title}”. Nothing was written. --force writes this set onto it.`,
      );
    const standing = new Map(comparison.songs.map((s) => [s.key, s.standing as string]));
    const theirs = comparison.songs.filter((s) => s.standing === 'theirs').map((s) => s.key);
    const written = await writeCard(folder, {
      set: open.set,
      card: options.card ?? manifest?.card ?? folder.name,
      day: today(),
      wanted,
      unmade,
      bytesOf: async (song, file) =>
        bytes.get(`${song.key} ${bare.get(`${song.key} ${file.path}`)}`)!,
      removeGone: options.removeGone === true,
      overTheirs: new Set(options.overTheirs ? theirs : []),
      sha256: async (b) => sha256(b),
    });
    if (options.json)
      print(
        JSON.stringify({
          set: open.set.title,
          card: options.out,
          songs: looked.songs.map((s) => ({ ...songJson(s), standing: standing.get(s.key) })),
          findings: looked.findings,
          ...written,
          gone: comparison.gone,
          notOurs: comparison.notOurs,
        }),
      );
    else {
      sayLooked(open, looked, standing);
      sayCard(comparison.gone, written.keptTheirs, comparison, options.removeGone === true);
      print(
        `${options.out}: ${count(written.written.length, 'file')} written (${sayBytes(written.bytes)}), ${written.removed.length} removed`,
      );
    }
    if (options.receipt !== undefined) writeReceipt(open, looked, standing, written, options);
    let status = statusFor(looked);
    if (written.keptTheirs.length > 0) status = worse(status, 1);
    return status;
  } catch (error) {
    if (error instanceof CardProblem) throw new Unusable(error.message);
    throw error;
  }
}

function sayCard(
  gone: readonly { title: string; files: readonly { path: string }[] }[],
  theirs: readonly string[],
  {
    songs,
    notOurs,
  }: {
    songs: readonly { title: string; theirs: readonly { at: string; says: string }[] }[];
    notOurs: readonly string[];
  },
  removed: boolean,
) {
  for (const g of gone)
    print(
      `  gone     ${g.title}: ${listed(g.files.map((f) => f.path))} ${removed ? 'removed' : 'left there; --remove-gone takes it away'}`,
    );
  for (const s of songs)
    for (const t of s.theirs)
      print(
        `  theirs   ${s.title}: ${t.at} ${t.says}${theirs.includes(t.at) ? '; left as it is, --over-theirs writes ours' : ''}`,
      );
  if (notOurs.length > 0) print(`  not ours ${count(notOurs.length, 'file')}: ${listed(notOurs)}`);
}

function writeReceipt(
  open: OpenSet,
  looked: Looked,
  standing: ReadonlyMap<string, string>,
  written: Awaited<ReturnType<typeof writeCard>>,
  options: SetOptions,
) {
  const songs = looked.songs.flatMap(({ key, title, made }) => {
    const known = looked.known.get(key);
    if (!made || !known) return [];
    const { facts, receipt } = made;
    return [
      { title, target: known.target.name, standing: standing.get(key) ?? null, facts, receipt },
    ];
  });
  const targets = [...new Set([...looked.known.values()].map((k) => k.target))];
  const receipt = makeSetReceipt(
    {
      set: open.set.title,
      card: options.card ?? null,
      songs,
      notHandedOver: looked.songs.flatMap((s) =>
        s.problem === null ? [] : [{ title: s.title, because: s.problem }],
      ),
      findings: looked.findings,
      checklist: [...new Set(targets.flatMap((t) => t.checklist))],
    },
    written,
  );
  for (const f of setReceiptFiles(receipt))
    writeOutput(join(options.receipt!, f.path), f.bytes, true);
}

/** What a card holds of a set, and what a handover would do; nothing is written. */
export async function statusOf(
  open: OpenSet,
  folder: string,
  options: SetOptions,
): Promise<Status> {
  const looked = await lookAt(open);
  const card = new NodeCard(folder);
  const wanted = wantedSongs(open.set, looked.known);
  try {
    const { manifest, comparison } = await readCard(card, wanted, async (b) => sha256(b), {
      set: open.set.id,
      unmade: unmadeOf(looked),
    });
    if (options.json) print(JSON.stringify({ card: folder, manifest, ...comparison }));
    else {
      print(
        manifest
          ? `${folder}: “${manifest.card}”, written ${manifest.written} from the set “${manifest.set.title}”, handover ${manifest.handover}`
          : `${folder}: no set was handed over into it`,
      );
      for (const [n, s] of comparison.songs.entries())
        print(`${String(n + 1).padStart(3)} ${s.title}: ${s.standing}`);
      sayCard(comparison.gone, [], comparison, false);
    }
    const same = comparison.songs.every((s) => s.standing === 'same');
    return same && comparison.gone.length === 0 ? 0 : 1;
  } catch (error) {
    if (error instanceof CardProblem) throw new Unusable(error.message);
    throw error;
  }
}
