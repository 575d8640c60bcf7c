import { smf, Track } from '../demo/song';
import type { Rendition } from '../src/core/score/piece';
import type { SourceScore } from '../src/core/sources/source';
import { openSource } from '../src/core/sources/source';
import { baseRendition } from '../src/core/plan/base';
import type { NoteColumns } from '../src/core/score/score';
import { findTarget } from '../src/core/target/index';
import { parseTarget } from '../src/core/target/parse';
import type { Target } from '../src/core/target/schema';
import type { Mend } from '../src/core/rules/finding';
import { Trials, type MendTrial } from '../src/core/plan/trial';
import { baseOf } from '../src/core/plan/base';

export { smf, Track };

export interface SongOptions {
  readonly format?: 0 | 1 | 2;
  readonly ppq?: number;
  readonly name?: string;
  readonly endTick?: number;
}

/** A source from tracks, by way of real bytes and the real reader. */
export function song(tracks: readonly Track[], options: SongOptions = {}): SourceScore {
  const { format = 1, ppq = 480, name = 'test.mid', endTick } = options;
  return sourceFromBytes(smf(format, ppq, tracks, endTick), name);
}

/** A song of the week, read once: whoever holds it against many targets shares what is known of it. */
export function weekSource({
  file,
  bytes,
}: {
  file: string;
  bytes: () => Uint8Array;
}): SourceScore {
  const there = weekSources.get(file) ?? sourceFromBytes(bytes(), file);
  weekSources.set(file, there);
  return there;
}
const weekSources = new Map<string, SourceScore>();

export function sourceFromBytes(
  bytes: Uint8Array,
  name = 'test.mid',
  sequence?: number,
  shiftJis?: (bytes: Uint8Array) => string,
): SourceScore {
  const opened = openSource(bytes, {
    key: 'main',
    name,
    sha256: 'test',
    ...(sequence === undefined ? {} : { sequence }),
    ...(shiftJis ? { shiftJis } : {}),
  });
  if (!opened.source) throw new Error(JSON.stringify(opened.damage));
  return opened.source;
}

/** A conductor with a tempo and a meter at tick 0, so that only what is tested is found. */
export const conductor = (bpm = 120, numerator = 4, denominator = 4): Track =>
  new Track().tempo(0, bpm).meter(0, numerator, denominator);

/** A target with nothing but the given blocks, and one seat on channel 1 unless it says others. */
export function targetWith(blocks: Record<string, unknown>): Target {
  const result = parseTarget({
    schemaVersion: 1,
    id: 'test-target',
    version: '1.0.0',
    name: 'Test target',
    summary: 'For a test',
    seats: [{ kind: 'channel', id: 'one', name: 'One', channel: 1 }],
    outputs: [{ writer: 'smf' }],
    checklist: [],
    ...blocks,
  });
  if (!result.target) throw new Error(JSON.stringify(result.problems));
  return result.target;
}

export function builtIn(id: string): Target {
  const target = findTarget(id);
  if (!target) throw new Error(id);
  return target;
}

export const renditionOf = (source: SourceScore, target: Target): Rendition =>
  baseRendition(baseOf(source), target);

/** Tries a mend on a rendition of one source. */
export const tryMend = (
  rendition: Rendition,
  mend: Mend,
  source: SourceScore,
  target: Target,
): MendTrial => new Trials(baseOf(source), target).try(rendition, mend);

/** Every number of a rendition's columns, to see that nothing was changed in place. */
export function snapshot({ pieces }: Rendition): string {
  const columns = (c: object) =>
    Object.values(c)
      .filter((v): v is Int32Array => ArrayBuffer.isView(v))
      .map((v) => Array.from(v).join(','));
  return JSON.stringify(
    pieces.map(({ score, delivery, captions, flags }) => [
      delivery,
      captions,
      flags?.map((f) => [f.flag, ...f.notes]),
      score.lastId,
      score.division,
      score.conductor,
      score.tracks,
      score.parts.map((p) => [p.id, p.leftOut, p.channel, columns(p.notes), columns(p.events)]),
    ]),
  );
}

/** Freezes everything but the numbers in columns, which cannot be. */
export function freeze<T>(value: T): T {
  if (typeof value !== 'object' || value === null || ArrayBuffer.isView(value)) return value;
  if (Object.isFrozen(value)) return value;
  Object.freeze(value);
  Object.values(value).forEach(freeze);
  return value;
}

/** Notes as rows: start, end, key, velocity. */
export const rows = (notes: NoteColumns): number[][] =>
  Array.from(notes.start, (start, i) => [
    start,
    notes.end[i]!,
    notes.noteNumber[i]!,
    notes.velocity[i]!,
  ]);
