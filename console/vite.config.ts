import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 900 },
  server: { proxy: { '/api': 'http://127.0.0.1:7480' } },
  // a stand-in for a browser for each file would take longer than all the tests in them
  test: { environment: 'jsdom', isolate: false, setupFiles: './src/testing/setup.ts', testTimeout: 20_000 },
});
