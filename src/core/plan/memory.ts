import type { Piece, Rendition } from '../score/piece';
import { quickHash } from './hash';
import type { StepRun } from './run-step';

/** One state of a plan: what led to it, told apart by equality and found by a hash. */
interface Entry {
  readonly text: string;
  readonly run: StepRun;
  readonly bytes: number;
  readonly id: number;
  /** The run of a plan that last came by. */
  touched: number;
}

/**
 * Remembers renditions by what led to them, so that undo, redo, switching a step off and editing
 * the last of twenty are look-ups. Bounded by the bytes that each entry does not share with the one
 * before. What runs before this one left goes first, the longest ago before others; where this run
 * alone is over the budget its beginning is kept, for the next run begins there as well.
 */
export class PlanMemory {
  private readonly entries = new Map<number, Entry>();
  private bytes = 0;
  private nextId = 1;
  private run = 0;
  constructor(private readonly mostBytes = 256 * 1024 * 1024) {}

  /** A plan is run from its beginning. */
  begin() {
    this.run++;
  }

  /** @param text what leads to it: the state before, by its id, and the step in full */
  get(text: string): { run: StepRun; id: number } | undefined {
    const hash = quickHash(text);
    const entry = this.entries.get(hash);
    if (entry?.text !== text) return undefined;
    this.entries.delete(hash);
    this.entries.set(hash, entry);
    entry.touched = this.run;
    return entry;
  }

  put(text: string, run: StepRun, before: Rendition): number {
    const bytes = ownBytes(run.rendition, before) + text.length * 2;
    const id = this.nextId++;
    if (bytes > this.mostBytes / 2) return id;
    const hash = quickHash(text);
    this.bytes -= this.entries.get(hash)?.bytes ?? 0;
    this.entries.delete(hash);
    for (const [oldest, entry] of this.entries) {
      if (this.bytes + bytes <= this.mostBytes) break;
      if (entry.touched === this.run) continue;
      this.entries.delete(oldest);
      this.bytes -= entry.bytes;
    }
    if (this.bytes + bytes > this.mostBytes) return id;
    this.bytes += bytes;
    this.entries.set(hash, { text, run, bytes, id, touched: this.run });
    return id;
  }
}

/** Start, end, key, velocity, off kind and velocity, orders, id and origin. */
const BYTES_A_NOTE = 28;
/** Tick, kind, two data bytes, order. */
const BYTES_AN_EVENT = 11;
/** A tempo, a marker, a text, a caption: an object with its fields. */
const BYTES_AN_OBJECT = 96;

/** What a rendition holds that the one before it does not: lists that are the same object are shared. */
function ownBytes(rendition: Rendition, before: Rendition): number {
  const shared = new Set<unknown>();
  for (const piece of before.pieces) for (const [list] of listsOf(piece)) shared.add(list);
  let bytes = 1024;
  for (const piece of rendition.pieces)
    for (const [list, size] of listsOf(piece)) if (!shared.has(list)) bytes += size;
  return bytes;
}

function* listsOf({ score, captions = [], flags = [] }: Piece): Iterable<[unknown, number]> {
  for (const { notes, events } of score.parts) {
    yield [notes, notes.count * BYTES_A_NOTE];
    yield [events, events.count * BYTES_AN_EVENT];
  }
  for (const { events } of score.tracks) yield [events, events.length * BYTES_AN_OBJECT];
  const { tempos, meters, keys, markers } = score.conductor;
  for (const list of [tempos, meters, keys, markers, captions])
    yield [list, list.length * BYTES_AN_OBJECT];
  for (const { notes } of flags) yield [notes, notes.size * 16];
}
