import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vitest/config';

const setupFiles = ['testing/setup-app.ts'];
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
    projects: [
      {
        extends: true,
        test: {
          // Files may share a worker, which reads the modules once.
          name: 'core',
          include: ['src/core/**/*.test.ts', 'demo/**/*.test.ts', 'src/{cli,server}/**/*.test.ts'],
          isolate: false,
        },
      },
      {
        extends: true,
        test: {
          name: 'app',
          include: ['src/app/**/*.test.ts', 'src/worker/**/*.test.ts'],
          exclude: alone,
          setupFiles,
          clearMocks: true,
          isolate: false,
        },
      },
      { extends: true, test: { name: 'alone', include: alone, setupFiles, clearMocks: true } },
    ],
  },
});
