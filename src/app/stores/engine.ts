import { EngineClient } from '../../worker/client';
import { db, openingOf } from '../storage/db';

const sourceBytes = async (sha256: string) => {
  const row = await db.sources.get(sha256);
  return row ? openingOf(row) : null;
};

let front: EngineClient | null = null;
const sides: EngineClient[] = [];
let ear: EngineClient | null = null;

/** A source that nobody needs any more goes from every worker that knows it. */
export function forgetSource(sha256: string): void {
  for (const client of [front, ...sides, ear]) client?.plain.forget(sha256).catch(() => undefined);
}

/** The worker that the screen waits for; sources come back from the database when it is new. */
export const engine = (): EngineClient => (front ??= new EngineClient(sourceBytes));

/** One for recordings: what it decodes and measures takes seconds. */
export const soundEngine = (): EngineClient => (ear ??= new EngineClient(sourceBytes));

/** A second one for what may wait: what mends would do, and songs that are tried on targets. */
export const sideEngine = (): EngineClient => (sides[0] ??= new EngineClient(sourceBytes));

/** Each knows its songs: more of them than that take more memory than they spare time. */
const MOST_SIDES = 4;
/** For so many songs at once: as many as there are cores beside the one of the screen. */
export function sideEngines(songs: number): readonly EngineClient[] {
  const cores = globalThis.navigator?.hardwareConcurrency ?? 2;
  const wanted = Math.max(1, Math.min(MOST_SIDES, cores - 1, songs));
  while (sides.length < wanted) sides.push(new EngineClient(sourceBytes));
  return sides.slice(0, wanted);
}
