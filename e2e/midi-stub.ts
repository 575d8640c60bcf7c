import type { Page } from '@playwright/test';

export interface SentMessage {
  readonly bytes: readonly number[];
  /** By the page’s clock, milliseconds. */
  readonly atMs: number;
}

/** A machine with one MIDI output and one input, in place of the browser’s. */
export async function stubMidi(page: Page, { refuses = false } = {}) {
  await page.addInitScript((no) => {
    const sent: { bytes: number[]; atMs: number }[] = [];
    const heard: ((e: unknown) => void)[] = [];
    const portOf = (id: string, type: string, name: string) => {
      const listeners: Record<string, ((e: unknown) => void)[]> = {};
      const port = {
        id,
        name,
        type,
        state: 'connected',
        connection: 'open',
        manufacturer: '',
        version: '1',
        open: () => Promise.resolve(port),
        close: () => Promise.resolve(port),
        send: (bytes: Uint8Array, at?: number) =>
          void sent.push({ bytes: [...bytes], atMs: at ?? performance.now() }),
        clear() {
          const now = performance.now();
          for (let i = sent.length - 1; i >= 0; i--) if (sent[i]!.atMs > now) sent.splice(i, 1);
        },
        addEventListener: (kind: string, f: (e: unknown) => void) =>
          void (listeners[kind] ??= []).push(f),
        removeEventListener: (kind: string, f: (e: unknown) => void) =>
          void (listeners[kind] = (listeners[kind] ?? []).filter((g) => g !== f)),
        tell(kind: string, event: unknown) {
          (port as Record<string, unknown> as { [k: string]: (e: unknown) => void })[`on${kind}`]?.(
            event,
          );
          for (const f of listeners[kind] ?? []) f(event);
        },
      };
      return port;
    };
    const output = portOf('out-1', 'output', 'Quay box');
    const input = portOf('in-1', 'input', 'Marsh keys');
    const access = {
      sysexEnabled: false,
      inputs: new Map([['in-1', input]]),
      outputs: new Map([['out-1', output]]),
      onstatechange: null as ((e: unknown) => void) | null,
      addEventListener: (_: string, f: (e: unknown) => void) => void heard.push(f),
      removeEventListener() {},
    };
    const told = (port: unknown) => {
      access.onstatechange?.({ port });
      for (const f of heard) f({ port });
    };
    Object.assign(window, {
      midiStub: {
        sent,
        plug(on: boolean) {
          output.state = on ? 'connected' : 'disconnected';
          // Web MIDI: an open port that is unplugged waits for its return.
          output.connection = on ? 'open' : 'pending';
          if (on) access.outputs.set('out-1', output);
          else access.outputs.delete('out-1');
          told(output);
        },
        play: (bytes: number[]) =>
          input.tell('midimessage', {
            data: Uint8Array.from(bytes),
            timeStamp: performance.now(),
            target: input,
          }),
      },
    });
    (navigator as { requestMIDIAccess: unknown }).requestMIDIAccess = () =>
      no
        ? Promise.reject(new DOMException('It was not allowed.', 'NotAllowedError'))
        : Promise.resolve(access);
  }, refuses);
}

interface Stub {
  readonly sent: SentMessage[];
  plug(on: boolean): void;
  play(bytes: number[]): void;
}
export const sentBy = (page: Page): Promise<SentMessage[]> =>
  page.evaluate(() => (window as unknown as { midiStub: Stub }).midiStub.sent);
export const plug = (page: Page, on: boolean) =>
  page.evaluate((o) => (window as unknown as { midiStub: Stub }).midiStub.plug(o), on);
export const playIn = (page: Page, bytes: number[]) =>
  page.evaluate((b) => (window as unknown as { midiStub: Stub }).midiStub.play(b), bytes);
