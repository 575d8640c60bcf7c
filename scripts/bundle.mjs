// Bundles the command line, the server and the generators so that they start fast (Node runs no .ts).
import { build } from 'esbuild';

const shared = {
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  logLevel: 'warning',
  loader: { '.json': 'json' },
};

export const bundle = (entry, outfile, options = {}) =>
  build({ ...shared, entryPoints: [entry], outfile, ...options });
