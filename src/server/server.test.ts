import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import request from 'supertest';
import { beforeAll, describe, expect, it } from 'vitest';
import { makeApp } from './app';

describe('the server', () => {
  let folder = '';
  beforeAll(() => {
    folder = mkdtempSync(join(tmpdir(), 'quill-'));
    writeFileSync(join(folder, 'index.html'), '<!doctype html><title>Wary Quill</title>');
    writeFileSync(join(folder, '.secret'), 'x');
  });
  it('isolates the page and lets scripts come from here only', async () => {
    const { headers, status } = await request(makeApp(folder)).get('/');
    expect(status).toBe(200);
    expect(headers['cross-origin-opener-policy']).toBe('same-origin');
    expect(headers['cross-origin-embedder-policy']).toBe('require-corp');
    expect(headers['content-security-policy']).toContain("script-src 'self' 'wasm-unsafe-eval'");
    expect(headers['content-security-policy']).not.toContain("'unsafe-eval'");
    expect(headers['x-powered-by']).toBeUndefined();
  });
  it('answers addresses inside the application with its page, and missing files with 404', async () => {
    const app = makeApp(folder);
    expect((await request(app).get('/job/abc/proof')).text).toContain('Wary Quill');
    expect((await request(app).get('/assets/none.js')).status).toBe(404);
  });
  it('gives nothing that lies outside, or is hidden', async () => {
    const app = makeApp(folder);
    for (const path of ['/../package.json', '/%2e%2e/package.json', '/.secret']) {
      const { text } = await request(app).get(path);
      expect(text).not.toContain('"dependencies"');
      expect(text).not.toBe('x');
    }
  });
});
