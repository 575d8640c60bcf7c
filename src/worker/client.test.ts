import * as Comlink from 'comlink';
import { eventually } from '../../testing/eventually';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { EngineClient, type SourceBytes } from './client';
import type { Call } from './protocol';

type Report = (done: number, total: number) => Promise<void>;
type Run = (call: Call, request: unknown, report: Report) => Promise<unknown>;

/** A worker in this thread: what it is asked is answered by the functions that a test gives. */
function client(run: Run, sourceBytes: SourceBytes = async () => null) {
  const workers: { ended: boolean; shared: SharedArrayBuffer | null; opened: string[] }[] = [];
  const raised: ((event: unknown) => void)[] = [];
  const ports: MessagePort[] = [];
  const made = new EngineClient(sourceBytes, () => {
    const { port1, port2 } = new MessageChannel();
    ports.push(port1, port2);
    const mine = { ended: false, shared: null as SharedArrayBuffer | null, opened: [] as string[] };
    workers.push(mine);
    Comlink.expose(
      {
        init: (shared: SharedArrayBuffer | null) => void (mine.shared = shared),
        open: (_: Call, request: { sha256: string }) => {
          mine.opened.push(request.sha256);
          return { is: 'done', value: {} };
        },
        run,
      },
      port2 as never,
    );
    const worker = port1 as unknown as Worker;
    worker.terminate = () => {
      mine.ended = true;
      port1.close();
    };
    raised.push((event) => worker.onerror?.(event as ErrorEvent));
    return worker;
  });
  open.push(() => ports.forEach((p) => p.close()));
  return { made, workers, raise: (event: unknown) => raised.at(-1)!(event) };
}
const open: (() => void)[] = [];
afterEach(() => {
  open.splice(0).forEach((close) => close());
  vi.unstubAllGlobals();
});
const request = {} as never;
const done = (value: unknown) => ({ is: 'done', value });
const never = () => new Promise<never>(() => {});

describe('the way to the worker', () => {
  it('answers, and tells how far it is until then', async () => {
    const { made } = client(async (_, __, report) => {
      await report(1, 2);
      return done('view');
    });
    const told: number[][] = [];
    const call = made.ask('run', request, (...p) => void told.push(p));
    expect(await call.result).toBe('view');
    expect(told).toEqual([[1, 2]]);
  });
  it('gives a source that the worker does not know, once, and asks again', async () => {
    let asked = 0;
    const { made, workers } = client(
      async () => (++asked === 1 ? { is: 'unknown-source', sha256: 'abc' } : done('now')),
      async (sha256) => ({ sha256, name: 'a.mid', bytes: new ArrayBuffer(4) }) as never,
    );
    expect(await made.ask('run', request).result).toBe('now');
    expect(workers[0]!.opened).toEqual(['abc']);
  });
  it('a source that is nowhere, or is asked for again and again, ends with nothing', async () => {
    const missing = async () => ({ is: 'unknown-source', sha256: 'abc' });
    expect(await client(missing).made.ask('run', request).result).toBeNull();
    const there: SourceBytes = async (sha256) =>
      ({ sha256, name: 'a.mid', bytes: new ArrayBuffer(4) }) as never;
    const { made, workers } = client(missing, there);
    expect(await made.ask('run', request).result).toBeNull();
    expect(workers[0]!.opened.length).toBe(1);
  });
  it('what the engine fails at is told, and the next call is answered', async () => {
    let asked = 0;
    const { made } = client(async () => {
      if (++asked === 1) throw new Error('a fault');
      return done('well');
    });
    await expect(made.ask('run', request).result).rejects.toThrow('a fault');
    expect(await made.ask('run', request).result).toBe('well');
  });
  it('given up without shared memory: the worker is ended, and what waits is asked anew', async () => {
    let asked = 0;
    const { made, workers } = client(() =>
      ++asked <= 2 ? never() : Promise.resolve(done('late')),
    );
    const first = made.ask('run', request);
    const second = made.ask('run', request);
    await eventually(() => expect(asked).toBe(2));
    first.cancel();
    expect(await first.result).toBeNull();
    expect(await second.result).toBe('late');
    expect(workers.map((w) => w.ended)).toEqual([true, false]);
  });
  it('given up with shared memory: the flag says whose call it is, the worker lives', async () => {
    vi.stubGlobal('crossOriginIsolated', true);
    let id = 0;
    const { made, workers } = client((call) => {
      id = call.id;
      return never();
    });
    const call = made.ask('run', request);
    await eventually(() => expect(id).toBeGreaterThan(0));
    call.cancel();
    expect(await call.result).toBeNull();
    const flags = new Int32Array(workers[0]!.shared!);
    expect([...flags].filter((f) => f !== 0)).toEqual([id]);
    expect(workers[0]!.ended).toBe(false);
    // Given up twice is given up once.
    call.cancel();
    expect(workers.length).toBe(1);
  });
  it('a worker that breaks fails what waits; another takes its place', async () => {
    let asked = 0;
    const { made, workers, raise } = client(() =>
      ++asked === 1 ? never() : Promise.resolve(done('again')),
    );
    const call = made.ask('run', request);
    await eventually(() => expect(asked).toBe(1));
    const refused = expect(call.result).rejects.toThrow('out of memory');
    raise({ message: 'out of memory', preventDefault() {} });
    await refused;
    expect(await made.ask('run', request).result).toBe('again');
    expect(workers.map((w) => w.ended)).toEqual([true, false]);
  });
  it('ended, nothing is left without an answer', async () => {
    const { made } = client(never);
    const call = made.ask('run', request);
    const refused = expect(call.result).rejects.toThrow('ended');
    made.dispose();
    await refused;
  });

  it('one that cannot be loaded is asked for again and again more seldom, and said', async () => {
    vi.useFakeTimers({ toFake: ['performance'] });
    let made = 0;
    let raise: (() => void) | null = null;
    const engine = new EngineClient(
      async () => null,
      () => {
        made++;
        const { port1, port2 } = new MessageChannel();
        open.push(() => [port1, port2].forEach((p) => p.close()));
        const worker = port1 as unknown as Worker;
        worker.terminate = () => port1.close();
        raise = () => worker.onerror?.({ message: '', preventDefault: () => {} } as never);
        return worker;
      },
    );
    raise!();
    expect(made).toBe(2);
    raise!();
    // The second time in a row it is left alone, whatever is asked.
    for (let i = 0; i < 50; i++)
      await expect(engine.ask('run', request).result).rejects.toThrow(/could not be loaded/);
    await expect(engine.plain.forget('x')).rejects.toThrow(/could not be loaded/);
    expect(made).toBe(2);
    vi.advanceTimersByTime(600);
    const asked = engine.ask('run', request);
    expect(made).toBe(3);
    raise!();
    await expect(asked.result).rejects.toThrow(/could not be loaded/);
    vi.advanceTimersByTime(600);
    await expect(engine.ask('run', request).result).rejects.toThrow();
    expect(made).toBe(3);
    vi.useRealTimers();
  });
});
