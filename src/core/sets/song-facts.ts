import { asDelivered } from '../reading/as-delivered';
import { deliveredEnd } from '../reading/ends';
import { hearingOf } from '../target/hearing';
import { comparePieces } from '../compare/by-id';
import type { Figures } from '../compare/say-figures';
import type { CompanionSound, OutputFile } from '../outputs/define-writer';
import type { Base } from '../sources/merge';
import type { PlanRun } from '../plan/run';
import { mapsOf } from '../score/inventory';
import { ticksPerQuarterOf } from '../score/score';
import type { Piece } from '../score/piece';
import type { Tally } from '../rules/proof';
import type { Target } from '../target/schema';

export interface SongFile {
  /** As the target names it: no folder of the set stands before it. */
  readonly path: string;
  readonly bytes: number;
  readonly sha256: string;
}

/** What the rules over a set look at in a song, and its line in the running order. */
export interface SongFacts {
  readonly lengthMs: number;
  readonly tally: Tally;
  /** Of a hundred notes of the parts that play, those that are still there. */
  readonly kept: number;
  readonly choices: number;
  readonly figures: Figures | null;
  readonly displayName: string | null;
  readonly kit: string | null;
  readonly microsecondsPerQuarter: number;
  readonly ppq: number;
  /** SHA-256 of all strikes by the clock: two songs of one value are note for note the same. */
  readonly music: string;
  readonly notes: number;
  readonly sound: { readonly name: string; readonly sha256: string } | null;
  readonly files: readonly SongFile[];
}

export interface SongInput {
  readonly base: Base;
  readonly run: PlanRun;
  readonly target: Target;
  readonly tally: Tally;
  readonly choices: number;
  readonly figures: Figures | null;
  readonly files: readonly OutputFile[];
  readonly sound: CompanionSound | null;
  readonly sha256: (bytes: Uint8Array) => Promise<string>;
}

/** A number for each strike, rising: file, whole milliseconds and key; channels do not matter. */
function strikesOf(pieces: readonly Piece[], target: Target): Float64Array {
  const delivered = pieces.map((p) => asDelivered(p, target).score);
  const playing = delivered.map((s) => s.parts.filter((p) => !p.leftOut));
  const all = new Float64Array(playing.flat().reduce((n, p) => n + p.notes.count, 0));
  let at = 0;
  for (const [n, parts] of playing.entries()) {
    const { clock } = mapsOf(delivered[n]!);
    for (const { notes } of parts)
      for (let i = 0; i < notes.count; i++) {
        const ms = Math.round(clock.msAt(notes.start[i]!));
        all[at++] = (n * LONGEST_MS + ms) * 128 + notes.noteNumber[i]!;
      }
  }
  return all.sort();
}
/** Longer than any file plays. */
const LONGEST_MS = 1e10;

export async function songFacts(input: SongInput): Promise<SongFacts> {
  const { base, run, target, files, sound, sha256 } = input;
  const { pieces } = run.rendition;
  const first = pieces[0];
  const maps = first && mapsOf(first.score);
  const strikes = strikesOf(pieces, target);
  const { dropped, notesBefore } = comparePieces(base.rendition.pieces, pieces, {
    hearing: hearingOf(target),
  });
  const { displayName = null, kit = null } = first?.delivery.metadata ?? {};
  // Pieces of a song that is carved follow each other.
  const lengthMs = pieces.reduce((ms, p) => ms + mapsOf(p.score).clock.msAt(deliveredEnd(p)), 0);
  const described: SongFile[] = [];
  for (const { path, bytes } of files)
    described.push({ path, bytes: bytes.length, sha256: await sha256(bytes) });
  return {
    lengthMs: Math.round(lengthMs),
    tally: input.tally,
    kept: notesBefore === 0 ? 100 : Math.floor(((notesBefore - dropped) / notesBefore) * 100),
    choices: input.choices,
    figures: input.figures,
    displayName,
    kit,
    microsecondsPerQuarter: maps?.clock.tempos[0]?.microsecondsPerQuarter ?? 500_000,
    ppq: first ? ticksPerQuarterOf(first.score.division) : 0,
    music: await sha256(new Uint8Array(strikes.buffer)),
    notes: strikes.length,
    sound: sound && { name: sound.name, sha256: await sha256(sound.bytes) },
    files: described,
  };
}
