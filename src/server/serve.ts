import type { Server } from 'node:http';
import { makeApp } from './app';
import { watchFolder, type FolderWatch } from './watch-folder';
import { newToken, watchRoutes } from './watch-routes';

export interface Serving {
  readonly port: number;
  /** What a page asks the watched folder by; null where none is watched. */
  readonly token: string | null;
  close(): Promise<void>;
}

/**
 * Serves the built application on this machine alone, and tells its page of one folder where one is
 * named. Another program may have the port: then any that is free is taken.
 */
export async function serve(
  folder: string,
  { port, watch: path }: { readonly port: number; readonly watch?: string | undefined },
): Promise<Serving> {
  const watch: FolderWatch | null = path === undefined ? null : await watchFolder(path);
  const token = watch && newToken();
  const app = makeApp(folder, (own) => {
    if (watch && token !== null) watchRoutes(own, watch, token);
  });
  const listen = (at: number): Promise<Server> =>
    new Promise((resolve, reject) => {
      const server = app.listen(at, '127.0.0.1', (error?: Error) => {
        if (!error) return resolve(server);
        const taken = (error as NodeJS.ErrnoException).code === 'EADDRINUSE';
        if (taken && at !== 0) listen(0).then(resolve, reject);
        else reject(error);
      });
    });
  const server = await listen(port);
  const address = server.address();
  return {
    port: typeof address === 'object' && address ? address.port : port,
    token,
    async close() {
      server.closeAllConnections();
      await new Promise<void>((done) => server.close(() => done()));
      await watch?.close();
    },
  };
}
