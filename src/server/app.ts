import express, { type Express } from 'express';
import helmet from 'helmet';

/**
 * Serves the built application and nothing else. Cross-origin isolation is on, so that workers may
 * share a cancel flag; scripts come from here only.
 */
export function makeApp(folder: string, further: (app: Express) => void = () => {}): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          fontSrc: ["'self'", 'data:'],
          connectSrc: ["'self'"],
          workerSrc: ["'self'", 'blob:'],
          objectSrc: ["'none'"],
          baseUri: ["'self'"],
          formAction: ["'self'"],
          frameAncestors: ["'none'"],
        },
      },
      crossOriginOpenerPolicy: { policy: 'same-origin' },
      crossOriginEmbedderPolicy: { policy: 'require-corp' },
      strictTransportSecurity: false,
    }),
  );
  further(app);
  app.use(
    express.static(folder, {
      index: 'index.html',
      dotfiles: 'deny',
      // What tells of a newer version is never taken from what is kept.
      setHeaders: (response, path) => {
        if (path.endsWith('sw.js')) response.set('cache-control', 'no-cache');
      },
    }),
  );
  // Addresses inside the application are answered with its page; anything with an ending is a file.
  app.get('/{*path}', (request, response) => {
    if (/\.[a-z0-9]+$/i.test(request.path)) {
      response.status(404).type('text/plain').send('There is no such file.');
      return;
    }
    response.sendFile('index.html', { root: folder });
  });
  return app;
}
