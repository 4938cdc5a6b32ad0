import { defineConfig } from 'vitest/config';

/** Far more than any test takes: a machine under load is no finding, and a test that hangs still ends. */
const PATIENCE = 300_000;

/** The machine has nothing else to do meanwhile. */
const ALL_CORES = '100%';

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'unit',
          include: ['{core,cli,demo,app,scripts}/**/*.test.ts'],
          exclude: ['app/routes/**'],
          environment: 'node',
          // One kernel for all files of a process: starting it takes longer than most tests.
          isolate: false,
          maxWorkers: ALL_CORES,
          expect: { poll: { timeout: PATIENCE } },
          testTimeout: PATIENCE,
          hookTimeout: PATIENCE,
        },
      },
      {
        test: {
          name: 'screens',
          include: ['app/**/*.test.tsx'],
          environment: 'happy-dom',
          maxWorkers: ALL_CORES,
          testTimeout: PATIENCE,
          hookTimeout: PATIENCE,
        },
      },
      {
        test: {
          name: 'server',
          include: ['server/**/*.test.ts', 'app/routes/**/*.test.ts'],
          environment: 'node',
          fileParallelism: false,
          expect: { poll: { timeout: PATIENCE } },
          testTimeout: PATIENCE,
          hookTimeout: PATIENCE,
        },
      },
      {
        test: {
          name: 'e2e',
          include: ['e2e/**/*.test.ts'],
          // One after the other: drawing in software takes every core there is, and two that draw take four times as long.
          fileParallelism: false,
          environment: 'node',
          expect: { poll: { timeout: PATIENCE } },
          // Shared machines stall now and then; a test that fails twice has found something.
          retry: process.env.CI ? 1 : 0,
          testTimeout: 3 * PATIENCE,
          hookTimeout: 3 * PATIENCE,
        },
      },
    ],
  },
});
