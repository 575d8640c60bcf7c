// Bundles the command line, the server and the generators so that they start fast (Node runs no .ts).
import { build } from 'esbuild';

const shared = {
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  // What has both is taken as modules: the other form loads its parts while it runs.
  mainFields: ['module', 'main'],
  logLevel: 'warning',
  loader: { '.json': 'json' },
};

export const bundle = (entry, outfile, options = {}) =>
  build({ ...shared, entryPoints: [entry], outfile, ...options });

/** What is imported when it is needed stands in files of its own beside the first. */
export const bundleSplit = (entries, outdir, options = {}) =>
  build({
    ...shared,
    entryPoints: entries,
    outdir,
    splitting: true,
    outExtension: { '.js': '.mjs' },
    ...options,
  });
