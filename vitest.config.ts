import { readdirSync, readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import vue from '@vitejs/plugin-vue';
import type { Plugin } from 'vite';
import { defineConfig } from 'vitest/config';

/**
 * In the tests of the application: the engine without its worker, a player without a sound device, a
 * file that is saved nowhere. Put in place where modules are found, so that all files share them.
 */
const STAND_INS = new Map(
  [
    ['src/app/stores/engine.ts', 'testing/engine-without-worker.ts'],
    ['src/app/audio/player.ts', 'testing/stub-player.ts'],
    ['src/app/storage/save-file.ts', 'testing/saved-files.ts'],
  ].map(([real, own]) => [resolve(real!), resolve(own!)]),
);
const standIns: Plugin = {
  name: 'stand-ins',
  enforce: 'pre',
  async resolveId(source, importer) {
    if (!/\/(engine|player|save-file)$/.test(source)) return null;
    const found = await this.resolve(source, importer, { skipSelf: true });
    return STAND_INS.get(found?.id ?? '') ?? null;
  },
};

/** Tests that put something of their own in a module's place: nobody else may meet that. */
const alone = readdirSync('src/app', { recursive: true, encoding: 'utf8' })
  .filter((name) => name.endsWith('.test.ts'))
  .map((name) => join('src/app', name))
  .filter((file) => readFileSync(file, 'utf8').includes('vi.mock('));

export default defineConfig({
  plugins: [vue()],
  test: {
    testTimeout: 30_000,
    // As many as the least machine has cores; one fewer would be taken where nothing is said.
    maxWorkers: 2,
    environment: 'node',
    // What a test put in the place of something is gone with it.
    clearMocks: true,
    restoreMocks: true,
    unstubGlobals: true,
    // Files of a project share a worker, which reads the modules once.
    isolate: false,
    projects: [
      {
        extends: true,
        test: {
          name: 'core',
          include: ['src/core/**/*.test.ts', 'demo/**/*.test.ts', 'src/{cli,server}/**/*.test.ts'],
        },
      },
      {
        extends: true,
        plugins: [standIns],
        test: {
          name: 'app',
          include: ['src/app/**/*.test.ts', 'src/worker/**/*.test.ts'],
          exclude: alone,
        },
      },
      {
        extends: true,
        plugins: [standIns],
        test: { name: 'alone', include: alone, isolate: true },
      },
    ],
  },
});
