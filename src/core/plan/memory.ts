import type { Part } from '../score/score';
import type { Rendition } from '../score/piece';
import { quickHash } from './hash';
import type { StepRun } from './run-step';

/** One state of a plan: what led to it, told apart by equality and found by a hash. */
interface Entry {
  readonly text: string;
  readonly run: StepRun;
  readonly bytes: number;
  readonly id: number;
}

/**
 * Remembers renditions by what led to them, so that undo, redo, switching a step off and editing
 * the last of twenty are look-ups. Bounded by the bytes of columns that each entry does not share.
 */
export class PlanMemory {
  private readonly entries = new Map<number, Entry>();
  private bytes = 0;
  private nextId = 1;
  constructor(private readonly mostBytes = 256 * 1024 * 1024) {}

  /** @param text what leads to it: the state before, by its id, and the step in full */
  get(text: string): { run: StepRun; id: number } | undefined {
    const hash = quickHash(text);
    const entry = this.entries.get(hash);
    if (entry?.text !== text) return undefined;
    this.entries.delete(hash);
    this.entries.set(hash, entry);
    return entry;
  }

  put(text: string, run: StepRun, before: Rendition): number {
    const bytes = ownBytes(run.rendition, before) + text.length * 2;
    const id = this.nextId++;
    if (bytes > this.mostBytes / 2) return id;
    const hash = quickHash(text);
    this.bytes += bytes - (this.entries.get(hash)?.bytes ?? 0);
    this.entries.delete(hash);
    this.entries.set(hash, { text, run, bytes, id });
    for (const [oldest, entry] of this.entries) {
      if (this.bytes <= this.mostBytes) break;
      this.entries.delete(oldest);
      this.bytes -= entry.bytes;
    }
    return id;
  }
}

/** Start, end, key, velocity, off kind and velocity, orders, id and origin. */
const BYTES_A_NOTE = 28;

function ownBytes(rendition: Rendition, before: Rendition): number {
  const shared = new Set<Part['notes']>();
  for (const piece of before.pieces) for (const part of piece.score.parts) shared.add(part.notes);
  let bytes = 1024;
  for (const piece of rendition.pieces)
    for (const part of piece.score.parts)
      if (!shared.has(part.notes)) bytes += part.notes.count * BYTES_A_NOTE;
  return bytes;
}
