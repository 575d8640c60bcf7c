import { sayIssue } from '../diagnostic/say-issue';
import { mapsOf } from '../score/inventory';
import type { Piece, Rendition } from '../score/piece';
import type { Base } from '../sources/merge';
import { REACHES, type Effect, type Reach } from '../steps/call';
import type { Loss, StepDefinition, StepResult } from '../steps/define-step';
import { findStep } from '../steps/index';
import { count } from '../target/words';
import { compose, mapper, type TimeMap } from '../time/time-map';
import type { PlanStep } from './plan';
import { NOTHING_MISSING, resolveScope, type Missing } from './select';

/** What one step came to. */
export interface StepRunOutcome {
  readonly effect: Effect | null;
  readonly losses: readonly Loss[];
  /** Why it did nothing, where it was refused or could not be used. */
  readonly refused: string | null;
  /** Files that it was refused on while others took it, each with the reason. */
  readonly passedOver: readonly { readonly file: string; readonly says: string }[];
  readonly missing: Missing;
}

export interface StepRun {
  readonly rendition: Rendition;
  readonly outcome: StepRunOutcome;
}

const NOT_THERE = 'What this step is for is not in this source.';

/**
 * Runs one step on every piece, within its scope. What it moves in time takes captions along, and
 * the scopes of later steps. A step that changes nothing leaves the piece the same object.
 */
export function runStep(
  rendition: Rendition,
  step: Pick<PlanStep, 'step' | 'params' | 'scope'>,
  base: Pick<Base, 'notes' | 'rendition'>,
): StepRun {
  const refuse = (refused: string, missing = NOTHING_MISSING): StepRun => ({
    rendition,
    outcome: { effect: null, losses: [], refused, passedOver: [], missing },
  });
  const definition = findStep(step.step);
  if (!definition) return refuse(`There is no step named "${step.step}".`);
  const params = definition.params.safeParse(step.params);
  if (!params.success) {
    const issue = params.error.issues[0]!;
    return refuse(`${issue.path.join('.') || 'Parameters'}: ${sayIssue(issue)}`);
  }
  const beyond = outOfReach(definition, step.scope);
  if (beyond) return refuse(beyond);
  const { file } = step.scope;
  if (file !== undefined && !rendition.pieces.some((p) => p.delivery.fileName === file))
    return refuse(`No file of the delivery is named ${file}.`);

  let effect: Effect | null = null;
  const losses: Loss[] = [];
  const pieces: Piece[] = [];
  const passedOver: { file: string; says: string }[] = [];
  const missings: Missing[] = [];
  for (const piece of rendition.pieces) {
    if (file !== undefined && piece.delivery.fileName !== file) {
      pieces.push(piece);
      continue;
    }
    const { select, missing, empty } = resolveScope(piece, step.scope, base.notes);
    missings.push(missing);
    const result: StepResult = empty
      ? { refused: NOT_THERE }
      : definition.apply({
          piece,
          params: params.data,
          maps: mapsOf(piece.score),
          select,
          came: base.rendition.pieces[piece.base ?? 0]!,
        });
    if ('refused' in result) {
      passedOver.push({ file: piece.delivery.fileName, says: result.refused });
      pieces.push(piece);
      continue;
    }
    pieces.push(...(result.pieces ?? [carried(piece, result)]));
    if (result.missing?.length)
      missings[missings.length - 1] = { ...missing, notes: [...missing.notes, ...result.missing] };
    effect = effect === null ? result.effect : addEffects(effect, result.effect);
    losses.push(...result.losses);
  }
  const missing = inNone(missings);
  if (effect === null) return refuse(passedOver[0]?.says ?? NOT_THERE, missing);
  // That a carved file does not hold a part is no refusal: another one does.
  const told = passedOver.filter((p) => p.says !== NOT_THERE);
  return {
    rendition: { pieces },
    outcome: { effect, losses, refused: null, passedOver: told, missing },
  };
}

/** Why a scope is finer than the step can be held to; null where it is not. */
function outOfReach(definition: StepDefinition, scope: PlanStep['scope']): string | null {
  const timed =
    scope.fromTick !== undefined || scope.toTick !== undefined || scope.stretches !== undefined;
  const asked: Reach = scope.notes ? 'notes' : timed ? 'stretch' : scope.parts ? 'parts' : 'piece';
  if (REACHES.indexOf(asked) <= REACHES.indexOf(definition.reach)) return null;
  const words = { piece: 'the whole piece', parts: 'whole parts', stretch: 'a stretch of bars' };
  const kept = { parts: 'some parts', stretch: 'a stretch of bars', notes: 'chosen notes' };
  const whole = words[definition.reach as keyof typeof words];
  return `“${definition.title}” is for ${whole} and cannot be kept to ${kept[asked as keyof typeof kept]}.`;
}

/** Captions and what later scopes name go where the music went. */
function carried(
  before: Piece,
  { piece, map }: { readonly piece: Piece; readonly map?: TimeMap },
): Piece {
  if (!map || map.stages.length === 0) return piece;
  const at = mapper(map);
  const { captions } = piece;
  return {
    ...piece,
    ...(captions && captions === before.captions
      ? { captions: captions.map((c) => ({ ...c, tick: at(c.tick) })) }
      : {}),
    fromBase: compose(before.fromBase, map),
  };
}

/** What no piece holds. */
function inNone(all: readonly Missing[]): Missing {
  const [first = NOTHING_MISSING, ...others] = all;
  return others.reduce(
    (a, b) => ({
      parts: a.parts.filter((p) => b.parts.includes(p)),
      notes: a.notes.filter((n) => b.notes.includes(n)),
    }),
    first,
  );
}

/** Counts are summed; of several files the sentence says how many. */
function addEffects(a: Effect, b: Effect): Effect {
  const sum = {
    notesChanged: a.notesChanged + b.notesChanged,
    notesDropped: a.notesDropped + b.notesDropped,
    notesAdded: a.notesAdded + b.notesAdded,
    events: a.events + b.events,
  };
  const said = [
    sum.notesChanged > 0 ? `${count(sum.notesChanged, 'note')} changed` : '',
    sum.notesDropped > 0 ? `${count(sum.notesDropped, 'note')} left out` : '',
    sum.notesAdded > 0 ? `${count(sum.notesAdded, 'note')} added` : '',
    sum.events > 0 ? `${count(sum.events, 'event')} changed` : '',
  ].filter(Boolean);
  return { ...sum, says: said.length > 0 ? `${said.join(', ')} in all files` : b.says };
}
