import { describe, expect, it } from 'vitest';
import { bytesOfWanted, Pulled, sha, wantedSong } from '../../../testing/card';
import { StrangeCard, type CardKind } from '../../../testing/strangers/cards';
import { dice } from '../../../testing/strangers/tune';
import { CardProblem } from './card-folder';
import { isPart } from './compare-card';
import { sameName, type WantedSong } from './layout';
import { BEGUN, MANIFEST } from './manifest';
import { readCard, writeCard } from './write-card';

const PATHS = [
  'a.mid',
  'A.mid',
  'b.mid',
  'Ünder.mid'.normalize('NFC'),
  'ünder.mid'.normalize('NFD'),
  'deep/a.mid',
  'Deep/a.mid',
  'deep/b.csv',
  'c.mid',
  'd.mid',
];
const TEXTS = ['one', 'two', 'three and more', 'four'];
const OTHERS = ['holiday.jpg', 'deep/notes.txt', 'a.mid', 'Deep/A.MID', 'C.MID', 'd.mid'];
const text = (bytes: Uint8Array) => new TextDecoder().decode(bytes);

/** A set whose files nobody can take for one another: a set with two of a name is a stop before. */
function anySongs({ between, pick, chance }: ReturnType<typeof dice>): WantedSong[] {
  const taken = new Set<string>();
  return ['p', 'q', 'r', 's'].flatMap((key) => {
    if (chance(25)) return [];
    const files: Record<string, string> = {};
    for (let n = between(1, 2); n > 0; n--) {
      const path = pick(PATHS);
      if (taken.has(sameName(path))) continue;
      taken.add(sameName(path));
      files[path] = pick(TEXTS);
    }
    return Object.keys(files).length > 0 ? [wantedSong(key, files)] : [];
  });
}

/** What lies on the card, kept beside it by what happened alone: by name as the card tells names. */
async function history(seed: number, kind: CardKind) {
  const roll = dice(seed);
  const card = new StrangeCard(kind);
  const name = (path: string) => (kind.folds ? sameName(path) : path);
  const theirs = new Map<string, string>();
  let mark = 0;
  const somebody = () => {
    const free = (path: string) => !card.at(path) && !card.all().some((f) => isNear(f.path, path));
    const found = card
      .all()
      .filter((f) => f.path !== MANIFEST && f.path !== BEGUN && !isPart(f.path));
    const what = roll.below(4);
    if (what === 0) {
      const path = roll.pick(OTHERS);
      if (!free(path)) return;
      const own = `of somebody ${mark++}`;
      card.put(path, new TextEncoder().encode(own));
      theirs.set(name(path), own);
    } else if (found.length > 0) {
      const { path } = roll.pick(found);
      if (what === 1) {
        const own = `changed by somebody ${mark++}`;
        card.put(path, new TextEncoder().encode(own));
        theirs.set(name(path), own);
      } else if (what === 2) {
        card.take(path);
        theirs.delete(name(path));
      } else {
        const to = roll.pick(['kept.mid', 'Other/kept.mid', path.toUpperCase()]);
        if (card.at(to) && name(to) !== name(path)) return;
        const own = text(card.at(path)!.bytes);
        card.rename(path, to);
        if (name(path) === name(to)) return;
        theirs.delete(name(path));
        theirs.set(name(to), own);
      }
    }
  };
  const isNear = (a: string, b: string) =>
    sameName(a).startsWith(`${sameName(b)}/`) || sameName(b).startsWith(`${sameName(a)}/`);
  const stand = () => {
    for (const [path, own] of theirs) {
      const there = card.at(path);
      expect(there && text(there.bytes), `somebody’s ${path}`).toBe(own);
    }
  };

  for (let round = 0; round < 5; round++) {
    const wanted = anySongs(roll);
    const touched = round > 0 && roll.chance(40);
    if (touched) for (let n = roll.between(1, 3); n > 0; n--) somebody();
    const removeGone = roll.chance(50);
    const order = {
      set: { id: 's', title: 'Quay' },
      card: 'Boathouse',
      day: '2031-05-04',
      wanted,
      bytesOf: bytesOfWanted,
      removeGone,
      sha256: sha,
      overTheirs: new Set<string>(),
    };
    const before = await readCard(card, wanted, sha, { set: 's' });
    const asked = before.comparison.songs.flatMap((s) => s.theirs);
    if (theirs.size === 0) expect(asked, 'nobody was here').toEqual([]);
    if (roll.chance(40)) card.pullAfter(roll.below(14));
    const whole = await writeCard(card, order).then(
      () => true,
      (error: unknown) => {
        if (error instanceof Pulled || error instanceof CardProblem) return false;
        throw error;
      },
    );
    card.pullAfter(Infinity);
    stand();
    if (!whole) continue;
    const kept = new Set(asked.map((t) => t.file.path));
    for (const file of wanted.flatMap((s) => s.files)) {
      if (kept.has(file.path)) continue;
      const there = card.at(file.path);
      expect(there && (await sha(there.bytes)), file.path).toBe(file.sha256);
      if (!kind.folds) expect(there!.path).toBe(file.path);
    }
    if (removeGone && !touched && theirs.size === 0) {
      const there = card.all().map((f) => sameName(f.path));
      const meant = wanted.flatMap((s) => s.files.map((f) => sameName(f.path)));
      expect(there.sort()).toEqual([...meant, MANIFEST].sort());
    }
    card.written = 0;
    expect(await writeCard(card, order)).toMatchObject({ written: [], removed: [] });
    expect(card.written, 'handed over twice').toBe(0);
    // Somebody’s files go where it is said, and nowhere else.
    if (asked.length > 0 && roll.chance(50)) {
      const over = new Set(before.comparison.songs.map((s) => s.key));
      const { comparison } = await readCard(card, wanted, sha, { set: 's' });
      const at = comparison.songs.flatMap((s) => s.theirs);
      await writeCard(card, { ...order, overTheirs: over });
      // What lay under another name with bytes of its own stays, where the card tells them apart.
      for (const t of at)
        if (t.renamed || name(t.at) === name(t.file.path)) theirs.delete(name(t.at));
      stand();
      for (const file of wanted.flatMap((s) => s.files)) {
        const there = card.at(file.path);
        expect(there && (await sha(there.bytes)), file.path).toBe(file.sha256);
      }
    }
  }
}

describe('whatever happened to a card', () => {
  for (const folds of [false, true])
    for (const keepsSpelling of folds ? [false, true] : [false])
      for (const hollow of [false, true])
        it(`nothing of somebody is lost, all of ours is there: ${JSON.stringify({ folds, keepsSpelling, hollow })}`, async () => {
          const runs = Number(process.env.LAW_RUNS ?? 150);
          for (let seed = 1; seed <= runs; seed++)
            await history(seed, { folds, keepsSpelling, hollow }).catch((error: unknown) => {
              throw new Error(`seed ${seed}: ${(error as Error).message}`, { cause: error });
            });
        });
});
