import { appendFileSync, mkdirSync, mkdtempSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import request from 'supertest';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { eventually } from '../../testing/eventually';
import { turnOfTheTide } from '../../demo/tunes';
import { makeApp } from './app';
import {
  isWhole,
  watchFolder,
  type FolderWatch,
  type Passed,
  type WatchedFile,
} from './watch-folder';
import { isFromHere, newToken, watchRoutes } from './watch-routes';

let folder = '';
let watch: FolderWatch;
const saved: WatchedFile[] = [];
const passed: Passed[] = [];
const begin = async () => {
  watch = await watchFolder(folder);
  watch.listen({ saved: (f) => saved.push(f), passed: (p) => passed.push(p) });
};
const at = (...names: string[]) => join(folder, ...names);
const tune = turnOfTheTide();

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'quill-watch-'));
  saved.length = 0;
  passed.length = 0;
});
afterEach(() => watch.close());

describe('a folder that is watched', () => {
  it('tells of what is there, of what is saved, and of nothing else', async () => {
    writeFileSync(at('a.mid'), tune);
    writeFileSync(at('notes.txt'), 'no score');
    writeFileSync(at('.hidden.mid'), tune);
    await begin();
    expect([...watch.files.keys()]).toEqual(['a.mid']);
    writeFileSync(at('b.mid'), tune);
    await eventually(() => expect(saved.map((f) => f.name)).toEqual(['b.mid']));
    expect(Buffer.from((await watch.read(saved[0]!.id))!).equals(tune)).toBe(true);
    // The very bytes again are nothing new.
    writeFileSync(at('b.mid'), tune);
    writeFileSync(at('c.mid'), tune);
    await eventually(() => expect(saved.map((f) => f.name)).toEqual(['b.mid', 'c.mid']));
  });

  it('two desks are told alike, and one that goes takes nothing from the other', async () => {
    await begin();
    const other: string[] = [];
    const gone: string[] = [];
    const end = watch.listen({ saved: (f) => gone.push(f.name) });
    watch.listen({ saved: (f) => other.push(f.name) });
    writeFileSync(at('a.mid'), tune);
    await eventually(() => expect([saved.length, other, gone]).toEqual([1, ['a.mid'], ['a.mid']]));
    end();
    writeFileSync(at('b.mid'), tune);
    await eventually(() => expect(other).toEqual(['a.mid', 'b.mid']));
    expect(gone).toEqual(['a.mid']);
    const reads = await Promise.all([1, 2].map(() => watch.read(saved[1]!.id)));
    for (const bytes of reads) expect(Buffer.from(bytes!).equals(tune)).toBe(true);
  });

  it('a score that is saved in portions is told of once, whole', async () => {
    await begin();
    const third = Math.ceil(tune.length / 3);
    for (let i = 0; i < 3; i++) {
      appendFileSync(at('slow.mid'), tune.subarray(i * third, (i + 1) * third));
      await new Promise((later) => setTimeout(later, 350));
    }
    await eventually(() => expect(saved).toHaveLength(1));
    expect(saved[0]!.bytes).toBe(tune.length);
  });

  it('saved ten times a second it is told of as it stands still', async () => {
    await begin();
    for (let i = 0; i < 10; i++) {
      const bytes = tune.slice();
      bytes[bytes.length - 5]! = i;
      writeFileSync(at('often.mid'), bytes);
      await new Promise((later) => setTimeout(later, 100));
    }
    await eventually(() => expect(saved.at(-1)?.name).toBe('often.mid'));
    const last = await watch.read(saved.at(-1)!.id);
    await eventually(() => expect(last![last!.length - 5]).toBe(9));
    expect(saved.length).toBeLessThanOrEqual(3);
  });

  it('links that lead out are refused and said, wherever they stand', async () => {
    const out = mkdtempSync(join(tmpdir(), 'quill-out-'));
    writeFileSync(join(out, 'secret.mid'), tune);
    symlinkSync(join(out, 'secret.mid'), at('link.mid'));
    symlinkSync(out, at('way'));
    await begin();
    writeFileSync(at('here.mid'), tune);
    await eventually(() => expect(saved.map((f) => f.name)).toEqual(['here.mid']));
    expect([...watch.files.keys()]).toEqual(['here.mid']);
    expect(watch.passed.get('link.mid')).toMatch(/is a link/);
    // One that became a link since is not read.
    const { id } = watch.files.get('here.mid')!;
    mkdirSync(at('sub'));
    symlinkSync(join(out, 'secret.mid'), at('sub', 'x.mid'));
    expect(await watch.read(id)).not.toBeNull();
    expect(await watch.read('../secret.mid')).toBeNull();
  });

  it('only the page of this machine that has the token is answered', async () => {
    writeFileSync(at('a.mid'), tune);
    await begin();
    const token = newToken();
    const app = makeApp(folder, (own) => watchRoutes(own, watch, token));
    const id = watch.files.get('a.mid')!.id;
    const ask = (path: string, headers: Record<string, string> = {}) =>
      request(app)
        .get(path)
        .set({ host: '127.0.0.1:4173', ...headers });
    expect((await ask(`/watch/${token}/file/${id}`)).status).toBe(200);
    expect((await ask(`/watch/${'x'.repeat(token.length)}/file/${id}`)).status).toBe(404);
    expect((await ask(`/watch/${token}/file/nothing`)).status).toBe(404);
    for (const host of ['evil.example', '127.0.0.1.evil.example', 'localhost.evil.example:80'])
      expect((await ask(`/watch/${token}/file/${id}`, { host })).status, host).toBe(404);
    const elsewhere = { origin: 'http://evil.example' };
    expect((await ask(`/watch/${token}/file/${id}`, elsewhere)).status).toBe(404);
    expect(
      isFromHere({ headers: { host: 'localhost:4173', origin: 'http://localhost:4173' } }),
    ).toBe(true);
  });
});

it('a score is whole when its chunks reach to their ends', () => {
  expect(isWhole(tune)).toBe(true);
  for (const n of [0, 1, 3, 13, 14, 30, tune.length - 1])
    expect(isWhole(tune.subarray(0, n)), String(n)).toBe(false);
  expect(isWhole(new TextEncoder().encode('a module, or anything else'))).toBe(true);
});
