import type { SourceScore } from '../sources/source';
import { stemOf } from '../smf/name';

/**
 * What is known of the music of a source, to find it again under another name: hashes of every four
 * strikes of a part that follow each other, by the steps between them and the ratio of their waits.
 * Neither the key nor the tempo matters.
 */
export type Fingerprint = ReadonlySet<number>;

/** Of longer parts the first as many strikes are looked at. */
const MOST_STRIKES = 4000;
const RUN = 4;

export function fingerprintOf({ score }: Pick<SourceScore, 'score'>): Fingerprint {
  const out = new Set<number>();
  for (const { notes, channel } of score.parts) {
    const n = Math.min(notes.count, MOST_STRIKES);
    const order = Uint32Array.from({ length: n }, (_, i) => i).sort(
      (a, b) => notes.start[a]! - notes.start[b]! || notes.noteNumber[a]! - notes.noteNumber[b]!,
    );
    for (let i = 0; i + RUN < n; i++) {
      let hash = channel === 10 ? 17 : 7;
      let before = 0;
      for (let k = 0; k < RUN; k++) {
        const [a, b] = [order[i + k]!, order[i + k + 1]!];
        const wait = notes.start[b]! - notes.start[a]!;
        // A wait against the one before it, in halves of an octave: what is played is never exact.
        const ratio = before > 0 && wait > 0 ? Math.round(Math.log2(wait / before) * 2) : 0;
        const step = notes.noteNumber[b]! - notes.noteNumber[a]!;
        hash = (Math.imul(hash, 31) + step + 128) | 0;
        hash = (Math.imul(hash, 31) + ratio + 32) | 0;
        before = wait;
      }
      out.add(hash);
    }
  }
  return out;
}

/** How much of the smaller of two is in the other, from 0 to 1. */
export function likeness(a: Fingerprint, b: Fingerprint): number {
  const [small, large] = a.size <= b.size ? [a, b] : [b, a];
  if (small.size === 0) return 0;
  let both = 0;
  for (const hash of small) if (large.has(hash)) both++;
  // A short piece that lies in a long one is another piece.
  return both / Math.sqrt(small.size * large.size);
}

export interface MatchSide {
  readonly key: string;
  /** File names that it is known by. */
  readonly names: readonly string[];
  readonly print: Fingerprint;
}

export interface SongMatch {
  readonly file: string;
  /** The song whose newer export it seems to be; null where there is none. */
  readonly song: string | null;
  readonly by: 'name' | 'music' | null;
  /** From 0 to 1. */
  readonly sure: number;
}

/** Less than this is no likeness: songs of one band share as much. */
const LEAST = 0.3;

/** `Salt bell round (final) v2.mid` is a later `salt-bell-round.mid`. */
export const plainStem = (name: string): string =>
  stemOf(name.split(/[/\\]/).at(-1)!)
    .toLowerCase()
    .replace(/\([^)]*\)|\b(v|ver|version|final|export|new|copy)\.?\s*\d*\b/g, ' ')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()
    // A number that an export added, or the day on which it was made.
    .replace(/( \d+)+$/, '');

/**
 * Each file finds its song: by the very name, then by its music, then by the name without what exports
 * add to it. No song is taken twice, the surest first.
 */
export function matchSongs(files: readonly MatchSide[], songs: readonly MatchSide[]): SongMatch[] {
  const pairs: { file: number; song: number; by: 'name' | 'music'; sure: number }[] = [];
  const stems = new Map<string, number>();
  for (const s of songs)
    for (const stem of new Set(s.names.map(plainStem))) stems.set(stem, (stems.get(stem) ?? 0) + 1);
  files.forEach((file, f) =>
    songs.forEach((song, s) => {
      const like = likeness(file.print, song.print);
      const lower = new Set(song.names.map((n) => n.toLowerCase()));
      if (file.names.some((n) => lower.has(n.toLowerCase())))
        pairs.push({ file: f, song: s, by: 'name', sure: 1 });
      const stem = file.names
        .map(plainStem)
        .find((n) => song.names.some((o) => plainStem(o) === n));
      // Of several songs with one plain name the music decides.
      if (stem !== undefined && stem !== '' && stems.get(stem) === 1)
        pairs.push({ file: f, song: s, by: 'name', sure: 0.6 + 0.35 * like });
      if (like >= LEAST) pairs.push({ file: f, song: s, by: 'music', sure: 0.95 * like });
    }),
  );
  pairs.sort((a, b) => b.sure - a.sure || a.file - b.file || a.song - b.song);
  const out: (SongMatch | undefined)[] = files.map(() => undefined);
  const taken = new Set<number>();
  for (const { file, song, by, sure } of pairs) {
    if (out[file] || taken.has(song)) continue;
    taken.add(song);
    out[file] = { file: files[file]!.key, song: songs[song]!.key, by, sure };
  }
  return out.map((m, i) => m ?? { file: files[i]!.key, song: null, by: null, sure: 0 });
}
