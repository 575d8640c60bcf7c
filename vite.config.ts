import { fileURLToPath } from 'node:url';
import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';

/** What the server sets too, so that the cancel flag can be shared with the worker. */
const isolated = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
};

export default defineConfig({
  plugins: [vue()],
  // The decoder of Opus offers to guess lost packets: that is not asked for, and not shipped.
  resolve: {
    alias: {
      '@wasm-audio-decoders/opus-ml': fileURLToPath(
        new URL('./src/core/sound/no-neural-opus.ts', import.meta.url),
      ),
    },
  },
  build: { outDir: 'dist/app', target: 'es2022', chunkSizeWarningLimit: 1500 },
  worker: { format: 'es' },
  server: { host: '127.0.0.1', headers: isolated },
  preview: { host: '127.0.0.1', headers: isolated },
});
