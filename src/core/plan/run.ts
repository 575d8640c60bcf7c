import { mapsOf } from '../score/inventory';
import type { Part } from '../score/score';
import type { Loss } from '../steps/define-step';
import { findStep } from '../steps/index';
import type { Target } from '../target/schema';
import { quickHash } from './hash';
import type { Checkpoint, Effect, Piece, Plan, PlanStep, Rendition, SourceScore } from './model';
import { seatByDefault } from './seating';
import { indexNotes, resolveScope, type Missing, type NoteIndex } from './select';

/** What one step of a plan came to. */
export interface StepOutcome {
  readonly key: string;
  readonly on: boolean;
  readonly effect: Effect | null;
  readonly losses: readonly Loss[];
  /** Why it did nothing, where it was refused or could not be used. */
  readonly refused: string | null;
  readonly missing: Missing;
}

export interface PlanRun {
  readonly rendition: Rendition;
  readonly outcomes: readonly StepOutcome[];
}

const NOTHING_MISSING: Missing = { parts: [], notes: [] };

/** The rendition before any step: the source as it came, with its default seating. */
export function baseRendition(source: SourceScore, target: Target): Rendition {
  const format = source.head.format === 0 && source.head.tracks === 1 ? 0 : 1;
  const delivery = {
    format,
    layout: format === 0 ? 'single' : 'as-is',
    fileName: source.name,
  } as const;
  return { pieces: [{ score: seatByDefault(source.score, target), delivery }] };
}

/** Runs one step on every piece. A step that changes nothing leaves the piece the same object. */
export function runStep(
  rendition: Rendition,
  step: Pick<PlanStep, 'step' | 'params' | 'scope'>,
  notes: NoteIndex,
): { rendition: Rendition; outcome: Omit<StepOutcome, 'key' | 'on'> } {
  const refuse = (refused: string, missing = NOTHING_MISSING) => ({
    rendition,
    outcome: { effect: null, losses: [], refused, missing },
  });
  const definition = findStep(step.step);
  if (!definition) return refuse(`There is no step named "${step.step}".`);
  const params = definition.params.safeParse(step.params);
  if (!params.success) {
    const issue = params.error.issues[0]!;
    return refuse(`${issue.path.join('.') || 'Parameters'}: ${issue.message}.`);
  }
  let effect: Effect | null = null;
  let missing = NOTHING_MISSING;
  const losses: Loss[] = [];
  const pieces: Piece[] = [];
  const { file } = step.scope;
  if (file !== undefined && !rendition.pieces.some((p) => p.delivery.fileName === file))
    return refuse(`No file of the delivery is named ${file}.`);
  for (const piece of rendition.pieces) {
    if (file !== undefined && piece.delivery.fileName !== file) {
      pieces.push(piece);
      continue;
    }
    const scope = resolveScope(piece, step.scope, notes);
    missing = scope.missing;
    if (scope.empty) return refuse('What this step is for is not in this source.', missing);
    const maps = mapsOf(piece.score);
    const result = definition.apply({ piece, params: params.data, maps, select: scope.select });
    if ('refused' in result) return refuse(result.refused, missing);
    pieces.push(...(result.pieces ?? [result.piece]));
    effect = effect === null ? result.effect : addEffects(effect, result.effect);
    losses.push(...result.losses);
  }
  return { rendition: { pieces }, outcome: { effect, losses, refused: null, missing } };
}

const addEffects = (a: Effect, b: Effect): Effect => ({
  notesChanged: a.notesChanged + b.notesChanged,
  notesDropped: a.notesDropped + b.notesDropped,
  notesAdded: a.notesAdded + b.notesAdded,
  events: a.events + b.events,
  says: `${a.says}; ${b.says}`,
});

/**
 * Remembers renditions by what led to them, so that undo, redo, switching a step off and editing
 * the last of twenty are look-ups. Bounded by the bytes of columns that each entry does not share.
 */
export class PlanMemory {
  private readonly entries = new Map<number, { run: Remembered; bytes: number }>();
  private bytes = 0;
  constructor(private readonly mostBytes = 256 * 1024 * 1024) {}

  get(key: number): Remembered | undefined {
    const entry = this.entries.get(key);
    if (!entry) return undefined;
    this.entries.delete(key);
    this.entries.set(key, entry);
    return entry.run;
  }

  put(key: number, run: Remembered, before: Rendition) {
    const bytes = ownBytes(run.rendition, before);
    if (bytes > this.mostBytes / 2) return;
    this.entries.set(key, { run, bytes });
    this.bytes += bytes;
    for (const [oldest, entry] of this.entries) {
      if (this.bytes <= this.mostBytes) break;
      this.entries.delete(oldest);
      this.bytes -= entry.bytes;
    }
  }
}

interface Remembered {
  readonly rendition: Rendition;
  readonly outcome: Omit<StepOutcome, 'key' | 'on'>;
}

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

export interface RunInput {
  readonly source: SourceScore;
  readonly target: Target;
  readonly plan: Plan;
  readonly memory?: PlanMemory;
  readonly checkpoint?: Checkpoint;
}

/** Runs a plan. Pure: the same source, target and plan give the same rendition. */
export function runPlan({ source, target, plan, memory, checkpoint }: RunInput): PlanRun {
  const notes = lazyIndex(source);
  const seats = JSON.stringify([target.seats, target.seating]);
  let key = quickHash(`${source.sha256}\n${source.name}\n${seats}`);
  let rendition = baseRendition(source, target);
  const outcomes: StepOutcome[] = [];
  plan.steps.forEach((step, i) => {
    checkpoint?.(i, plan.steps.length);
    if (!step.on) {
      const quiet = { effect: null, losses: [], refused: null, missing: NOTHING_MISSING };
      outcomes.push({ key: step.key, on: false, ...quiet });
      return;
    }
    key = quickHash(JSON.stringify([step.step, step.params, step.scope]), key);
    const known = memory?.get(key);
    const result = known ?? runStep(rendition, step, notes);
    if (!known) memory?.put(key, result, rendition);
    rendition = result.rendition;
    outcomes.push({ key: step.key, on: true, ...result.outcome });
  });
  // A step may have brought a part to a seat's channel.
  const pieces = rendition.pieces.map((p) => ({ ...p, score: seatByDefault(p.score, target) }));
  return { rendition: { pieces }, outcomes };
}

export function lazyIndex(source: SourceScore): NoteIndex {
  let index: NoteIndex | null = null;
  return (address) => (index ??= indexNotes(source.score))(address);
}
