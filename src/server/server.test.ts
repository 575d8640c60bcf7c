import { once } from 'node:events';
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { get } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import request from 'supertest';
import { beforeAll, describe, expect, it } from 'vitest';
import { makeApp } from './app';

describe('the server', () => {
  let folder = '';
  beforeAll(() => {
    const above = mkdtempSync(join(tmpdir(), 'quill-'));
    folder = join(above, 'web');
    mkdirSync(folder);
    writeFileSync(join(above, 'beside.json'), 'kept to itself');
    writeFileSync(join(folder, 'index.html'), '<!doctype html><title>Wary Quill</title>');
    writeFileSync(join(folder, '.secret'), 'kept to itself');
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
    const server = makeApp(folder).listen(0, '127.0.0.1');
    await once(server, 'listening');
    const { port } = server.address() as AddressInfo;
    // As they stand on the wire: a client that tidies paths would never ask.
    const ask = (path: string) =>
      new Promise<{ status: number; text: string }>((resolve, reject) => {
        get({ host: '127.0.0.1', port, path }, (reply) => {
          let text = '';
          reply.on('data', (d) => (text += d));
          reply.on('end', () => resolve({ status: reply.statusCode ?? 0, text }));
        }).on('error', reject);
      });
    const outside = [
      '/../beside.json',
      '/%2e%2e/beside.json',
      '/..%2fbeside.json',
      '/a/../../beside.json',
    ];
    for (const path of [...outside, '/.secret']) {
      const { status, text } = await ask(path);
      expect([400, 403, 404], `${path}: ${text}`).toContain(status);
      expect(text, path).not.toContain('kept to itself');
    }
    // What is no file is a place in the application.
    expect((await ask('/%2esecret')).text).toContain('Wary Quill');
    expect((await ask('/index.html')).status).toBe(200);
    server.close();
  });
});
