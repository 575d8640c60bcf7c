import { figuresOf } from '../compare/figures';
import { inThousandths, type Figures } from '../compare/say-figures';
import type { Checkpoint } from '../diagnostic/checkpoint';
import { handOver, type Handover } from '../handover/hand-over';
import type { TriedInReceipt } from '../handover/receipt';
import type { CompanionSound, OutputFile } from '../outputs/define-writer';
import type { LeftAsIs, Plan } from '../plan/plan';
import { writeOutputs } from '../outputs/index';
import { runPlan } from '../plan/run';
import { proof, tallyOf } from '../rules/proof';
import type { HeardSound } from '../sound/beside';
import type { Base } from '../sources/merge';
import type { Target } from '../target/schema';
import { nameSteps } from './names';
import { songFacts, type SongFacts } from './song-facts';

export interface SongOrder {
  readonly title: string;
  readonly base: Base;
  readonly target: Target;
  readonly plan: Plan;
  readonly leftAsIs: readonly LeftAsIs[];
  /** What its files are called in the set; the job’s own names where not said. */
  readonly name?: string | undefined;
  readonly recordingMs?: number;
  readonly soundName?: string;
  readonly heard?: HeardSound;
  readonly sound?: CompanionSound | null;
  readonly tried?: readonly TriedInReceipt[];
  readonly sha256: (bytes: Uint8Array) => Promise<string>;
  readonly checkpoint?: Checkpoint;
}

export interface SongDelivery extends Handover {
  readonly facts: SongFacts;
  /** What the target reads: without the receipt. */
  readonly music: readonly OutputFile[];
}

const OF_RECEIPT = new Set(['receipt.json', 'receipt.html']);

/** The song as its plan makes it, under the names that the set gives its files, and what is found. */
function proofed(order: SongOrder) {
  const { base, target } = order;
  let plan = order.plan;
  let run = runPlan({ base, target, plan });
  const named = nameSteps(order.name, target, run.rendition.pieces.length);
  if (named.length > 0) {
    plan = { ...plan, steps: [...plan.steps, ...named] };
    run = runPlan({ base, target, plan });
  }
  const beside = {
    ...(order.recordingMs === undefined ? {} : { recordingMs: order.recordingMs }),
    ...(order.soundName === undefined ? {} : { soundName: order.soundName }),
    ...(order.heard ? { heard: order.heard } : {}),
  };
  const findings = proof({ rendition: run.rendition, target, base, ...beside });
  return { plan, run, findings, beside };
}

function factsOf(
  { base, target, leftAsIs, sound = null, sha256 }: SongOrder,
  { run, findings }: Pick<ReturnType<typeof proofed>, 'run' | 'findings'>,
  files: readonly OutputFile[],
  figures: Figures,
): Promise<SongFacts> {
  const left = new Set(leftAsIs.map((l) => l.key));
  return songFacts({
    base,
    run,
    target,
    tally: tallyOf(findings, leftAsIs),
    choices: findings.filter((f) => f.choice !== undefined && !left.has(f.key)).length,
    figures,
    files,
    sound,
    sha256,
  });
}

/** What is known of a song of a set: written, and neither read back nor rehearsed. */
export async function knowSong(order: SongOrder): Promise<SongFacts> {
  const { base, target, checkpoint, sound = null } = order;
  checkpoint?.(0, 2);
  const made = proofed(order);
  checkpoint?.(1, 2);
  const { files } = writeOutputs(made.run.rendition, target, sound);
  const figures = figuresOf(base.rendition, made.run.rendition, target);
  return factsOf(order, made, files, inThousandths(figures));
}

/** One song of a set as it goes out: written, read back, rehearsed, and what is known of it. */
export async function handOverSong(order: SongOrder): Promise<SongDelivery> {
  const { base, target, leftAsIs, sha256, checkpoint } = order;
  const { plan, run, findings, beside } = proofed(order);
  const done = await handOver({
    job: order.title,
    handover: null,
    base,
    target,
    plan,
    run,
    findings,
    leftAsIs,
    ...beside,
    sound: order.sound ?? null,
    ...(order.tried ? { tried: order.tried } : {}),
    sha256,
    ...(checkpoint ? { checkpoint } : {}),
  });
  const music = done.files.filter((f) => !OF_RECEIPT.has(f.path));
  const facts = await factsOf(order, { run, findings }, music, done.receipt.music);
  return { ...done, music, facts };
}
