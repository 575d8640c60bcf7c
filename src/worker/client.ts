import * as Comlink from 'comlink';
import type { Answer, Call, Engine, OpenReply, OpenRequest, Progress } from './protocol';

/** Gives the bytes of a source again, for a worker that had to be built anew. */
export type SourceBytes = (sha256: string) => Promise<OpenRequest | null>;

export interface RunningCall<T> {
  readonly result: Promise<T | null>;
  /** The result is null once this took effect. */
  cancel(): void;
}

/** Calls that may wait at the same time without sharing a slot. */
const CANCEL_SLOTS = 256;

/**
 * The screen's way to the worker. A call can be cancelled while the worker computes: it reads a
 * shared flag; where memory cannot be shared, the worker is ended and another takes its place.
 */
export class EngineClient {
  private worker!: Worker;
  private remote!: Comlink.Remote<Engine>;
  private flag: Int32Array | null = null;
  private nextId = 1;

  constructor(private readonly sourceBytes: SourceBytes) {
    this.start();
  }

  private start() {
    this.worker = new Worker(new URL('./entry.ts', import.meta.url), { type: 'module' });
    this.remote = Comlink.wrap<Engine>(this.worker);
    const shared = globalThis.crossOriginIsolated ? new SharedArrayBuffer(4 * CANCEL_SLOTS) : null;
    this.flag = shared ? new Int32Array(shared) : null;
    void this.remote.init(shared);
  }

  /** The plain calls, which answer at once. */
  get plain(): Pick<
    Comlink.Remote<Engine>,
    'catalogue' | 'stepForms' | 'checkStep' | 'readRecipe' | 'pack' | 'unpack' | 'forget'
  > {
    return this.remote;
  }

  open(request: OpenRequest, progress?: Progress): RunningCall<OpenReply> {
    const bytes = request.bytes.slice(0);
    return this.call(
      (call, report) =>
        this.remote.open(call, Comlink.transfer({ ...request, bytes }, [bytes]), report),
      progress,
    );
  }

  ask<K extends 'run' | 'tryMends' | 'mendAll' | 'schedule' | 'handOver' | 'fit' | 'learn'>(
    name: K,
    request: Parameters<Engine[K]>[1],
    progress?: Progress,
  ): RunningCall<Value<K>> {
    const ask = (call: Call, report: Progress) =>
      (this.remote[name] as (c: Call, r: unknown, p: Progress) => Promise<Answer<Value<K>>>)(
        call,
        request,
        report,
      );
    return this.call(ask, progress, request.sequence);
  }

  private call<T>(
    ask: (call: Call, progress: Progress) => Promise<Answer<T>>,
    progress: Progress = () => {},
    sequence?: number,
  ): RunningCall<T> {
    const id = this.nextId++;
    let given = false;
    let giveUp: (value: null) => void = () => {};
    const ended = new Promise<null>((resolve) => (giveUp = resolve));
    const attempt = async (again: boolean): Promise<T | null> => {
      const reply = await ask(
        { id },
        Comlink.proxy((done, total) => {
          if (!given) progress(done, total);
        }),
      );
      if (reply.is === 'done') return reply.value;
      if (reply.is === 'cancelled' || !again) return null;
      const source = await this.sourceBytes(reply.sha256);
      if (!source) return null;
      await this.open({ ...source, ...(sequence === undefined ? {} : { sequence }) }).result;
      return attempt(false);
    };
    return {
      result: Promise.race([attempt(true), ended]),
      cancel: () => {
        if (given) return;
        given = true;
        if (this.flag) Atomics.store(this.flag, id % CANCEL_SLOTS, id);
        else {
          this.worker.terminate();
          this.start();
        }
        giveUp(null);
      },
    };
  }
}

type Value<K extends keyof Engine> = Engine[K] extends (
  ...args: never[]
) => Promise<Answer<infer T>>
  ? T
  : never;
