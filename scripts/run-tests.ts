import { spawnSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { hasOutsideReader } from '#core/testing/outside-reader';
import { ROOT } from './bootstrap.mjs';
import { dropDatabase, ensureDatabase, startPostgres, templateOf } from './postgres';
import { buildIfStale } from './processes';

const STEPS = ['check', 'types', 'unit', 'screens', 'server', 'e2e'];

/** So many tests are named with the time that they took. */
const SLOWEST = 10;

interface Timed {
  test: string;
  seconds: number;
}

/** What is read of Vitest's report. */
interface Report {
  numPassedTests: number;
  numFailedTests: number;
  numPendingTests: number;
  testResults: { name: string; assertionResults: { fullName: string; duration?: number }[] }[];
}

/**
 * Everything that has to hold: formatting and lint, types, unit tests, tests of screens without a browser, tests with
 * PostgreSQL, and the real interface
 * in Chromium. Ends with a line that counts the tests. Names of steps as
 * arguments run only those; other arguments pick test files by a part of their name.
 */
export async function test(args: string[]): Promise<number> {
  const only = args.filter((arg) => STEPS.includes(arg));
  const files = args.filter((arg) => !STEPS.includes(arg));
  const wanted = (step: string) => only.length === 0 || only.includes(step);
  const failed: string[] = [];
  const step = (name: string, command: string, args: string[]) => {
    if (!wanted(name)) return;
    console.log(`\n== ${name}`);
    const { status } = spawnSync('npx', [command, ...args], { cwd: ROOT, stdio: 'inherit' });
    if (status !== 0) failed.push(name);
  };
  step('check', 'biome', ['check', '--error-on-warnings', '.']);
  if (wanted('types')) spawnSync('npx', ['react-router', 'typegen'], { cwd: ROOT, stdio: 'ignore' });
  step('types', 'tsc', ['--noEmit']);

  const counts = { passed: 0, failed: 0, skipped: 0 };
  const slow: Timed[] = [];
  const suites = ['unit', 'screens', 'server', 'e2e'].filter(wanted);
  if (suites.length > 0) {
    const cluster = await startPostgres();
    const name = `stonetray_test_${process.pid}`;
    try {
      process.env.DATABASE_URL = await ensureDatabase(cluster, name, true);
      // What guessing costs is not what these tests are about.
      process.env.STONETRAY_PASSWORD_COST = '12';
      if (suites.includes('e2e')) buildIfStale();
      for (const suite of suites) {
        console.log(`\n== ${suite}`);
        const report = path.join(os.tmpdir(), `stonetray-${process.pid}-${suite}.json`);
        const { status } = spawnSync(
          'npx',
          [
            'vitest',
            'run',
            '--project',
            suite,
            '--reporter=default',
            '--reporter=json',
            `--outputFile.json=${report}`,
            ...files,
          ],
          { cwd: ROOT, stdio: 'inherit', env: process.env },
        );
        if (status !== 0) failed.push(suite);
        try {
          const { numPassedTests, numFailedTests, numPendingTests, testResults } = JSON.parse(
            readFileSync(report, 'utf8'),
          ) as Report;
          for (const { name: file, assertionResults } of testResults)
            for (const { fullName, duration } of assertionResults)
              slow.push({
                test: `${path.relative(ROOT, file)}: ${fullName}`,
                seconds: (duration ?? 0) / 1000,
              });
          counts.passed += numPassedTests;
          counts.failed += numFailedTests;
          counts.skipped += numPendingTests;
        } catch {
          counts.failed++;
        }
        rmSync(report, { force: true });
      }
    } finally {
      await dropDatabase(cluster, name);
      await dropDatabase(cluster, templateOf(name));
      if (cluster.started) cluster.stop();
    }
  }
  const slowest = slow.sort((a, b) => b.seconds - a.seconds).slice(0, SLOWEST);
  if (slow.length > SLOWEST) {
    console.log(`\nThe slowest ${SLOWEST}:`);
    for (const { test: name, seconds } of slowest)
      console.log(`${seconds.toFixed(1).padStart(7)} s  ${name}`);
  }
  if (failed.length > 0) console.log(`\nNot passed: ${failed.join(', ')}`);
  if (counts.skipped > 0 && !hasOutsideReader)
    console.log(
      '\nWhat we write was not held against another reader: install the Debian package occt-draw for those tests.',
    );
  const skipped = counts.skipped > 0 ? `, ${counts.skipped} skipped` : '';
  console.log(`\nTests: ${counts.passed} passed, ${counts.failed} failed${skipped}`);
  return failed.length === 0 ? 0 : 1;
}
