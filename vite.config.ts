import { reactRouter } from '@react-router/dev/vite';
import { defineConfig } from 'vite';
import { pressedAssets } from './scripts/pressed-assets';

export default defineConfig({
  plugins: [reactRouter(), pressedAssets()],
  build: { chunkSizeWarningLimit: 1200 },
  ssr: {
    external: ['knex', 'pg', 'pg-boss', 'yauzl', 'yazl'],
    // Thousands of small modules, of which pages use a few: read one by one they take longer than all else when a web process starts.
    noExternal: [/^@mantine\//, /^@tabler\//, /^@tanstack\//, 'recharts'],
  },
});
