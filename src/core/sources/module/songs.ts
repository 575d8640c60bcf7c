import type { Checkpoint } from '../../diagnostic/checkpoint';
import type { Module } from './module';
import { perform, type Performance } from './strikes';

/** A song of a module: games keep several in one list of orders and begin each at its own. */
export interface ModuleSong {
  /** The order that it begins at, from 0. */
  readonly order: number;
  readonly strikes: number;
}

/** Nobody keeps more in one file; what lies behind them is left over. */
const MOST_SONGS = 64;
/** Beyond so much music no further songs are looked for. */
const MOST_SECONDS = 4 * 3600;

/**
 * The songs of a module: the first is what is heard from its beginning; each further one begins at the
 * first order that none before it came to, and strikes what none before it did.
 */
export function songsIn(
  module: Module,
  first: Performance,
  checkpoint?: Checkpoint,
): readonly ModuleSong[] {
  const heard = new Set(first.rows.map((r) => r.order));
  const songs: ModuleSong[] = [{ order: 0, strikes: first.strikes.length }];
  let { seconds } = first;
  for (const order of module.orders.keys()) {
    if (heard.has(order) || songs.length >= MOST_SONGS || seconds > MOST_SECONDS) continue;
    const song = perform(module, { order, checkpoint });
    // Marks between songs are passed over: it begins behind them.
    const begins = song.rows[0]?.order;
    const strikesAnew = song.strikes.some((s) => !heard.has(song.rows[s.row]!.order));
    for (const r of song.rows) heard.add(r.order);
    seconds += song.seconds;
    if (begins !== undefined && strikesAnew)
      songs.push({ order: begins, strikes: song.strikes.length });
  }
  return songs;
}
