import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'unit',
          include: ['{core,cli,demo,app}/**/*.test.ts'],
          exclude: ['app/routes/**'],
          environment: 'node',
        },
      },
      {
        test: {
          name: 'server',
          include: ['server/**/*.test.ts', 'app/routes/**/*.test.ts'],
          environment: 'node',
          fileParallelism: false,
          testTimeout: 60_000,
          hookTimeout: 60_000,
        },
      },
      {
        test: {
          name: 'e2e',
          include: ['e2e/**/*.test.ts'],
          environment: 'node',
          fileParallelism: false,
          expect: { poll: { timeout: 15_000 } },
          // Shared machines stall now and then; a test that fails twice has found something.
          retry: process.env.CI ? 1 : 0,
          testTimeout: 120_000,
          hookTimeout: 120_000,
        },
      },
    ],
  },
});
