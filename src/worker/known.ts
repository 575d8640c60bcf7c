import { whichKey, whichOf, type Which } from '../core/sources/which';
import { Cancelled, type Checkpoint } from '../core/diagnostic/checkpoint';
import type { Finding } from '../core/rules/finding';
import { safeName, type CompanionSound } from '../core/outputs/define-writer';
import { PlanMemory } from '../core/plan/memory';
import type { Plan } from '../core/plan/plan';
import { runPlan, type PlanRun } from '../core/plan/run';
import { proof } from '../core/rules/proof';
import type { Piece } from '../core/score/piece';
import { decodeSound } from '../core/sound/decode';
import { lengthMs } from '../core/sound/samples';
import type { KnownModule } from '../core/sources/module/known';
import { makeBase, type Base } from '../core/sources/merge';
import { withKey, type SourceScore } from '../core/sources/source';
import { companionName } from '../core/target/sound';
import type { Answer, Call, Progress } from './protocol';
import type { HandoverRequest, RunRequest, SourceRef } from './run-protocol';

// Pure of state: names of bytes, and what a call says of its sound.

const hex = (buffer: ArrayBuffer) =>
  Array.from(new Uint8Array(buffer), (b) => b.toString(16).padStart(2, '0')).join('');
export const sha256 = async (bytes: Uint8Array) =>
  hex(await crypto.subtle.digest('SHA-256', bytes as Uint8Array<ArrayBuffer>));

const japanese = new TextDecoder('shift_jis');
export const shiftJis = (bytes: Uint8Array) => japanese.decode(bytes);

type SourceSlot = Which & Pick<SourceRef, 'sha256'>;

class UnknownSource extends Error {
  constructor(readonly ref: SourceSlot) {
    super('unknown source');
  }
}

/** Of a format 2 file each sequence is a source of its own, of a module each way to read it. */
const slotOf = (slot: SourceSlot) => `${slot.sha256}#${whichKey(slot)}`;

export interface Ran {
  base: Base;
  run: PlanRun;
  findings: Finding[];
}

/** What one worker knows between its calls: sources by their bytes, the last base, the last run. */
export class Known {
  private readonly sources = new Map<string, SourceScore>();
  private readonly memory = new PlanMemory();
  private cancelled: Int32Array | null = null;
  /** The last base: most calls are about the job that is open. */
  private lastBase: { key: string; base: Base } | null = null;
  /** The last run and its findings: mends, sound and handover ask for the same one again. */
  private lastRan: { key: string; ran: Ran } | null = null;

  readonly sharesCancel = (shared: SharedArrayBuffer | null): void => {
    this.cancelled = shared ? new Int32Array(shared) : null;
  };

  /** Progress at most every 50 ms; a call that was given up ends here. */
  private checkpointOf(call: Call, progress: Progress): Checkpoint {
    let last = performance.now();
    return (done, total) => {
      const { cancelled } = this;
      if (cancelled && Atomics.load(cancelled, call.id % cancelled.length) === call.id)
        throw new Cancelled();
      const now = performance.now();
      if (now - last < 50) return;
      last = now;
      progress(done, total);
    };
  }

  readonly answer = async <T>(
    call: Call,
    progress: Progress,
    work: (checkpoint: Checkpoint) => Promise<T> | T,
  ): Promise<Answer<T>> => {
    try {
      const checkpoint = this.checkpointOf(call, progress);
      checkpoint(0, 1);
      return { is: 'done', value: await work(checkpoint) };
    } catch (error) {
      if (error instanceof Cancelled) return { is: 'cancelled' };
      if (error instanceof UnknownSource) {
        return { is: 'unknown-source', sha256: error.ref.sha256, ...whichOf(error.ref) };
      }
      throw error;
    }
  };

  readonly keep = (ref: SourceSlot, source: SourceScore): void => {
    this.sources.set(slotOf(ref), source);
  };

  /** What is known of a module, however it was read. */
  readonly moduleOf = (hash: string): KnownModule | undefined => {
    for (const source of this.sources.values())
      if (source.sha256 === hash && source.extras?.module) return source.extras.module;
    return undefined;
  };

  /** Key and name are the job's: the same bytes may be known by several. */
  readonly sourceOf = (ref: SourceRef): SourceScore => {
    const source = this.sources.get(slotOf(ref));
    if (!source) throw new UnknownSource(ref);
    return withKey(source, ref.key, ref.name);
  };

  readonly baseFor = (refs: readonly SourceRef[], plan: Plan): Base => {
    const key = JSON.stringify([refs, plan.uses ?? []]);
    if (this.lastBase?.key === key) return this.lastBase.base;
    const base = makeBase(refs.map(this.sourceOf), plan.uses);
    this.lastBase = { key, base };
    return base;
  };

  readonly ran = (request: Omit<RunRequest, 'known'>, checkpoint: Checkpoint): Ran => {
    const { target, plan } = request;
    const sound = soundOf(request);
    const { recordingMs, soundName, soundSha, heard } = request;
    const by = [recordingMs, soundName, soundSha, heard !== undefined];
    const key = JSON.stringify([request.sources, target, plan, by]);
    if (this.lastRan?.key === key) return this.lastRan.ran;
    const base = this.baseFor(request.sources, plan);
    const run = runPlan({ base, target, plan, memory: this.memory, checkpoint });
    const findings = proof({ rendition: run.rendition, target, base, checkpoint, ...sound });
    const result = { base, run, findings };
    this.lastRan = { key, ran: result };
    return result;
  };

  /** The bytes of a source are not needed any more. */
  readonly forget = (hash: string): void => {
    for (const key of this.sources.keys()) if (key.startsWith(`${hash}#`)) this.sources.delete(key);
    this.lastRan = null;
    this.lastBase = null;
  };
}

/** What is known of the companion sound. */
export const soundOf = ({
  recordingMs,
  soundName,
  heard,
}: Pick<RunRequest, 'recordingMs' | 'soundName' | 'heard'>) => ({
  ...(recordingMs === undefined ? {} : { recordingMs }),
  ...(soundName === undefined ? {} : { soundName }),
  ...(heard ? { heard } : {}),
});

/** The sound that goes out beside the score; its length is that of its samples. */
export async function companionOf(
  { sound }: Pick<HandoverRequest, 'sound'>,
  checkpoint: Checkpoint,
): Promise<CompanionSound | null> {
  if (!sound) return null;
  const bytes = new Uint8Array(sound.bytes);
  const samples = sound.samples ?? (await decodeSound(bytes, checkpoint)).samples;
  return {
    name: safeName(companionName(sound.name)),
    bytes,
    lengthUs: samples ? Math.round(lengthMs(samples) * 1000) : 0,
    ...(samples ? { samples } : {}),
  };
}

/** The piece of the base that a delivered one came from, as far as there is one. */
export const cameFrom = (base: Base, index: number): Piece =>
  base.rendition.pieces[index] ?? base.rendition.pieces[0]!;
