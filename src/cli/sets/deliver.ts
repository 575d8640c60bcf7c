import { baseOf } from '../../core/plan/base';
import { handOverSong, type SongDelivery } from '../../core/sets/hand-over-song';
import { songsOf, type SongRow } from '../../core/sets/set';
import type { SongFacts } from '../../core/sets/song-facts';
import type { Receipt } from '../../core/handover/receipt';
import { sha256, Unusable } from '../files';
import { soundFacts } from '../sounds';
import { openSet, songWork, titleOf } from './open-set';
import { type OpenSet } from './opened';

/** A song as a worker made it. */
export interface MadeSong {
  readonly key: string;
  readonly title: string;
  readonly problem: string | null;
  readonly made: {
    readonly facts: SongFacts;
    readonly receipt: Receipt;
    readonly files: SongDelivery['music'];
    readonly unexplained: readonly string[];
  } | null;
}

async function makeSong(open: OpenSet, row: SongRow): Promise<MadeSong> {
  const title = titleOf(open, row);
  try {
    const work = await songWork(open, row);
    const done = await handOverSong({
      title,
      base: baseOf(work.sources, work.plan.uses),
      target: work.target,
      plan: work.plan,
      leftAsIs: work.leftAsIs,
      name: row.name,
      ...soundFacts(work.sound),
      sound: work.sound,
      sha256: async (bytes) => sha256(bytes),
    });
    const { facts, receipt, music: files, rehearsal } = done;
    return {
      key: row.key,
      title,
      problem: null,
      made: { facts, receipt, files, unexplained: rehearsal.unexplained },
    };
  } catch (error) {
    if (!(error instanceof Unusable)) throw error;
    return { key: row.key, title, problem: error.message, made: null };
  }
}

/** In a worker: the set is opened once, songs are made one after the other. */
export function songTask(path: string) {
  const open = openSet(path);
  const rows = songsOf(open.set);
  return (n: number): Promise<MadeSong> => makeSong(open, rows[n]!);
}
