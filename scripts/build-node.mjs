// The command line and the server, each in one file.
import { bundle } from './bundle.mjs';

// Bundled packages of the older module kind ask for require().
const banner = {
  js: "import { createRequire } from 'node:module'; const require = createRequire(import.meta.url);",
};
await bundle('src/cli/main.ts', 'dist/cli/main.mjs', { minify: true, banner });
await bundle('src/server/main.ts', 'dist/server/main.mjs', { banner });
