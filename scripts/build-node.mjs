// The command line, whose decoders are loaded when a recording is named, and the server.
import { rmSync } from 'node:fs';
import { bundle, bundleSplit } from './bundle.mjs';

// Bundled packages of the older module kind ask for require().
const banner = {
  js: "import { createRequire } from 'node:module'; const require = createRequire(import.meta.url);",
};
rmSync('dist/cli', { recursive: true, force: true });
await bundleSplit(['src/cli/main.ts'], 'dist/cli', { minify: true, banner });
await bundle('src/server/main.ts', 'dist/server/main.mjs', { banner });
