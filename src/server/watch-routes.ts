import { randomBytes, timingSafeEqual } from 'node:crypto';
import { basename } from 'node:path';
import type { Express, Request, Response } from 'express';
import type { FolderWatch, WatchedFile } from './watch-folder';

/** Desks that may listen at the same time. */
const MOST_DESKS = 16;
const ALIVE_MS = 20_000;

export const newToken = (): string => randomBytes(18).toString('base64url');

const sameToken = (a: string, b: string): boolean => {
  const [x, y] = [Buffer.from(a), Buffer.from(b)];
  return x.length === y.length && timingSafeEqual(x, y);
};

/** Asked by a page of this address and no other: by the names that are this machine alone. */
export function isFromHere({ headers }: Pick<Request, 'headers'>): boolean {
  const host = headers.host ?? '';
  if (!/^(127\.0\.0\.1|localhost)(:\d+)?$/.test(host)) return false;
  const { origin } = headers;
  return origin === undefined || origin === `http://${host}`;
}

/**
 * What the page is told of the folder: server-sent events, and bytes by an opaque id. Who does not have
 * the token of the address is answered as if nothing were there.
 */
export function watchRoutes(app: Express, watch: FolderWatch, token: string) {
  const allowed = (request: Request, response: Response): boolean => {
    if (isFromHere(request) && sameToken(String(request.params['token']), token)) return true;
    response.status(404).type('text/plain').send('There is no such file.');
    return false;
  };
  let desks = 0;

  app.get('/watch/:token/events', (request, response) => {
    if (!allowed(request, response)) return;
    if (desks >= MOST_DESKS) {
      response.status(503).type('text/plain').send('Too many desks watch this folder.');
      return;
    }
    desks++;
    response.writeHead(200, {
      'content-type': 'text/event-stream',
      'cache-control': 'no-store',
      connection: 'keep-alive',
    });
    const send = (event: string, data: unknown) =>
      response.write(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`);
    send('folder', { name: basename(watch.folder) });
    for (const file of watch.files.values()) send('saved', { ...file, first: true });
    for (const [name, says] of watch.passed) send('passed', { name, says });
    const end = watch.listen({
      saved: (file: WatchedFile) => send('saved', file),
      gone: (file: WatchedFile) => send('gone', file),
      passed: (what) => send('passed', what),
    });
    const alive = setInterval(() => response.write(': here\n\n'), ALIVE_MS);
    request.on('close', () => {
      desks--;
      clearInterval(alive);
      end();
    });
  });

  app.get('/watch/:token/file/:id', async (request, response) => {
    if (!allowed(request, response)) return;
    const bytes = await watch.read(String(request.params['id']));
    if (bytes === null) {
      response.status(404).type('text/plain').send('There is no such file.');
      return;
    }
    response
      .set('cache-control', 'no-store')
      .type('application/octet-stream')
      .send(Buffer.from(bytes));
  });
}
