import { whichKey, whichOf } from '../core/sources/which';
import * as Comlink from 'comlink';
import type { Answer, Call, Engine, Progress } from './protocol';
import type { OpenReply, OpenRequest } from './run-protocol';

/** Gives the bytes of a source again, for a worker that had to be built anew. */
export type SourceBytes = (sha256: string) => Promise<OpenRequest | null>;

export interface RunningCall<T> {
  /** Null once it was given up; rejects where the engine itself failed. */
  readonly result: Promise<T | null>;
  cancel(): void;
}

type Asked =
  | 'addresses'
  | 'run'
  | 'tryMends'
  | 'mendAll'
  | 'reaches'
  | 'schedule'
  | 'handOver'
  | 'fit'
  | 'listen'
  | 'lineUp'
  | 'rehearse'
  | 'fileLines'
  | 'describe'
  | 'separate'
  | 'readPack'
  | 'receive'
  | 'makeSound'
  | 'seams'
  | 'driftFrom'
  | 'rowRates'
  | 'thin'
  | 'songBars'
  | 'loudness'
  | 'learn'
  | 'moduleInfo'
  | 'moduleWays'
  | 'moduleSound'
  | 'moduleWave'
  | 'song'
  | 'songFacts'
  | 'matchSongs'
  | 'cardSongs';

type PlainCalls = Pick<
  Comlink.Remote<Engine>,
  | 'catalogue'
  | 'stepForms'
  | 'checkStep'
  | 'readRecipe'
  | 'pack'
  | 'setReceipt'
  | 'unpack'
  | 'probe'
  | 'writePack'
  | 'forget'
>;

/** Calls that may wait at the same time without sharing a slot. */
const CANCEL_SLOTS = 256;
/** How long one that broke is left alone: the first, the second and later times in a row. */
const BACK_OFF_MS = [0, 500, 2000, 10_000];
/** Sources that one call may ask for, one after the other. */
const MOST_SOURCES = 2000;

interface Waiting {
  /** Asks the worker of now. */
  again(): void;
  fail(error: Error): void;
}

/**
 * The screen's way to the worker. A call can be cancelled while the worker computes: it reads a
 * shared flag; where memory cannot be shared, the worker is ended and another takes its place, and
 * what else was waiting is asked again there. No call is left without an answer.
 */
export class EngineClient {
  private worker!: Worker;
  private remote!: Comlink.Remote<Engine>;
  private flag: Int32Array | null = null;
  private nextId = 1;
  /** No two workers of a page give columns one key. */
  private static epochs = 0;
  private readonly waiting = new Set<Waiting>();
  /** Workers that broke one after the other, without one that answered between them. */
  private failures = 0;
  private down = false;
  private mayStartAt = 0;

  constructor(
    private readonly sourceBytes: SourceBytes,
    private readonly makeWorker: () => Worker = () =>
      new Worker(new URL('./entry.ts', import.meta.url), { type: 'module' }),
  ) {
    this.start();
  }

  private start() {
    const worker = this.makeWorker();
    this.worker = worker;
    this.remote = Comlink.wrap<Engine>(worker);
    const shared = globalThis.crossOriginIsolated ? new SharedArrayBuffer(4 * CANCEL_SLOTS) : null;
    this.flag = shared ? new Int32Array(shared) : null;
    worker.onerror = (event) => {
      if (worker !== this.worker) return;
      event.preventDefault();
      worker.terminate();
      const error = new Error(event.message || 'The engine could not be loaded.');
      for (const call of [...this.waiting]) call.fail(error);
      this.broke();
    };
    this.remote
      .init(shared, EngineClient.epochs++)
      .then(() => {
        if (worker === this.worker) this.failures = 0;
      })
      .catch(() => undefined);
  }

  /**
   * Another takes the place of one that broke: at once after the first time, later after a while, so
   * that one that cannot be loaded is not asked for over and over. It is asked for again when it is
   * needed.
   */
  private broke() {
    this.failures++;
    this.down = true;
    this.mayStartAt = performance.now() + (BACK_OFF_MS[this.failures - 1] ?? BACK_OFF_MS.at(-1)!);
    if (this.failures === 1) this.standUp();
  }

  private standUp() {
    if (!this.down || performance.now() < this.mayStartAt) return;
    this.down = false;
    this.start();
  }

  /** A worker that is there or has just been asked for; an error where it is too soon to ask again. */
  private standing(): Error | null {
    this.standUp();
    return this.down ? new Error('The engine could not be loaded.') : null;
  }

  /** The plain calls, which answer at once; they fail with the worker as all others do. */
  readonly plain = new Proxy({} as PlainCalls, {
    get:
      (_, name) =>
      (...args: unknown[]) =>
        this.plainCall(name as keyof PlainCalls, args),
  });

  private plainCall(name: keyof PlainCalls, args: readonly unknown[]): Promise<unknown> {
    return new Promise((resolve, reject) => {
      const ask = () =>
        (this.remote[name] as (...a: unknown[]) => Promise<unknown>)(...args)
          .then(resolve, reject)
          .finally(() => this.waiting.delete(waiting));
      const fail = (error: Error) => {
        this.waiting.delete(waiting);
        reject(error);
      };
      const waiting: Waiting = { again: () => void ask(), fail };
      const missing = this.standing();
      if (missing) return fail(missing);
      this.waiting.add(waiting);
      void ask();
    });
  }

  open(request: OpenRequest, progress?: Progress): RunningCall<OpenReply> {
    return this.call((call, report) => {
      const bytes = request.bytes.slice(0);
      return this.remote.open(call, Comlink.transfer({ ...request, bytes }, [bytes]), report);
    }, progress);
  }

  ask<K extends Asked>(
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
    return this.call(ask, progress);
  }

  private call<T>(
    ask: (call: Call, progress: Progress) => Promise<Answer<T>>,
    progress: Progress = () => {},
  ): RunningCall<T> {
    const id = this.nextId++;
    let settled = false;
    let settle: (value: T | null) => void = () => {};
    let reject: (error: Error) => void = () => {};
    const result = new Promise<T | null>((resolve, fail) => {
      settle = resolve;
      reject = fail;
    });
    const end = () => {
      settled = true;
      this.waiting.delete(waiting);
    };
    const report = Comlink.proxy((done: number, total: number) => {
      if (!settled) progress(done, total);
    });
    /** Asks until there is an answer; a worker that does not know a source is given it. */
    const attempt = async (): Promise<T | null> => {
      const given = new Set<string>();
      for (let tries = 0; tries < MOST_SOURCES; tries++) {
        const reply = await ask({ id }, report);
        if (reply.is === 'done') return reply.value;
        if (reply.is === 'cancelled') return null;
        const { sha256 } = reply;
        const slot = `${sha256}#${whichKey(reply)}`;
        if (given.has(slot)) return null;
        given.add(slot);
        const source = await this.sourceBytes(sha256);
        if (!source) return null;
        await this.open({ ...source, ...whichOf(reply) }).result;
      }
      return null;
    };
    let round = 0;
    const waiting: Waiting = {
      again: () => {
        const mine = ++round;
        attempt().then(
          (value) => {
            if (mine !== round || settled) return;
            end();
            settle(value);
          },
          (error: unknown) => {
            if (mine === round)
              waiting.fail(error instanceof Error ? error : new Error(String(error)));
          },
        );
      },
      fail: (error) => {
        if (settled) return;
        end();
        reject(error);
      },
    };
    this.waiting.add(waiting);
    const missing = this.standing();
    if (missing) queueMicrotask(() => waiting.fail(missing));
    else waiting.again();
    return {
      result,
      cancel: () => {
        if (settled) return;
        end();
        settle(null);
        if (this.flag) Atomics.store(this.flag, id % CANCEL_SLOTS, id);
        else if (!this.down) {
          this.worker.terminate();
          this.start();
          for (const other of [...this.waiting]) other.again();
        }
      },
    };
  }

  /** Ends the worker; what waits is given up. */
  dispose() {
    this.worker.terminate();
    for (const call of [...this.waiting]) call.fail(new Error('The engine was ended.'));
  }
}

type Value<K extends keyof Engine> = Engine[K] extends (
  ...args: never[]
) => Promise<Answer<infer T>>
  ? T
  : never;
