import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [react()],
  // The server puts a number of its own here for each answer; see its content security policy.
  html: { cspNonce: 'style-nonce-of-this-answer' },
  server: { proxy: { '/api': process.env.LUCID_SERVER ?? 'http://127.0.0.1:8040' } },
  build: {
    rolldownOptions: {
      output: {
        codeSplitting: { groups: [{ name: 'vendor', test: /node_modules\/(react|react-dom|react-router|@tanstack)\// }] },
      },
    },
  },
  test: {
    environment: 'jsdom',
    include: ['src/**/*.test.{ts,tsx}'],
    setupFiles: ['src/patience.ts'],
    testTimeout: 300_000,
    hookTimeout: 300_000,
  },
});
