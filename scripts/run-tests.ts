import { spawnSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { hasOutsideReader } from '#core/testing/outside-reader';
import { ROOT } from './bootstrap.mjs';
import { dropDatabase, ensureDatabase, startPostgres, templateOf } from './postgres';
import { buildIfStale } from './processes';

/** One after the other: side by side on two processors they take longer together than each alone. */
const SUITES = ['unit', 'screens', 'server', 'e2e'];
const STEPS = ['check', 'types', ...SUITES];

/** So many tests are named with the time that they took. */
const SLOWEST = 10;

/** What is read of Vitest's report. */
interface Report {
  numPassedTests: number;
  numFailedTests: number;
  numPendingTests: number;
  testResults: {
    name: string;
    /** What was wrong with the file itself, so that none of its tests ran. */
    message?: string;
    assertionResults: { fullName: string; status: string; duration?: number; failureMessages?: string[] }[];
  }[];
}

/** What came of the steps so far. */
class Outcome {
  readonly failed: string[] = [];
  /** Each test that failed, with the first line of why: the run is long, and its end is what is read. */
  readonly failures: string[] = [];
  readonly counts = { passed: 0, failed: 0, skipped: 0 };
  readonly took: { what: string; seconds: number }[] = [];

  /** @param report of Vitest; null when there is none */
  add(report: Report | null): void {
    this.counts.passed += report?.numPassedTests ?? 0;
    this.counts.failed += report?.numFailedTests ?? 1;
    this.counts.skipped += report?.numPendingTests ?? 0;
    for (const { name, message, assertionResults } of report?.testResults ?? []) {
      const file = path.relative(ROOT, name);
      if (assertionResults.length === 0 && message) this.failures.push(`${file}: ${firstLine(message)}`);
      for (const { fullName, status, duration, failureMessages } of assertionResults) {
        const what = `${file}: ${fullName}`;
        this.took.push({ what, seconds: (duration ?? 0) / 1000 });
        if (status === 'failed')
          this.failures.push(`${what}\n      ${firstLine(failureMessages?.[0] ?? '')}`);
      }
    }
  }

  tell(): void {
    if (this.took.length > SLOWEST) {
      console.log(`\nThe slowest ${SLOWEST}:`);
      for (const { what, seconds } of this.took.sort((a, b) => b.seconds - a.seconds).slice(0, SLOWEST))
        console.log(`${seconds.toFixed(1).padStart(7)} s  ${what}`);
    }
    if (this.failures.length > 0) console.log('\nFailed:');
    for (const failure of this.failures) console.log(`  ${failure}`);
    if (this.failed.length > 0) console.log(`\nNot passed: ${this.failed.join(', ')}`);
    const { passed, failed, skipped } = this.counts;
    if (skipped > 0 && !hasOutsideReader)
      console.log(
        '\nWhat we write was not held against another reader: install the Debian package occt-draw for those tests.',
      );
    console.log(`\nTests: ${passed} passed, ${failed} failed${skipped > 0 ? `, ${skipped} skipped` : ''}`);
  }
}

/**
 * Everything that has to hold: formatting and lint, types, unit tests, tests of screens without a browser, tests with
 * PostgreSQL, and the real interface in Chromium. Ends with a line that counts the tests. Names of steps as arguments run only those; other
 * arguments pick test files by a part of their name.
 */
export async function test(args: string[]): Promise<number> {
  const only = args.filter((arg) => STEPS.includes(arg));
  const files = args.filter((arg) => !STEPS.includes(arg));
  const wanted = (step: string) => only.length === 0 || only.includes(step);
  const outcome = new Outcome();
  const needsDatabase = SUITES.some(wanted);
  const cluster = needsDatabase ? await startPostgres() : undefined;
  const name = `stonetray_test_${process.pid}`;
  try {
    if (cluster) process.env.DATABASE_URL = await ensureDatabase(cluster, name, true);
    // What guessing costs is not what these tests are about.
    process.env.STONETRAY_PASSWORD_COST = '12';
    if (wanted('types')) spawnSync('npx', ['react-router', 'typegen'], { cwd: ROOT, stdio: 'ignore' });
    if (wanted('e2e')) buildIfStale();
    for (const step of STEPS.filter(wanted)) run(step, files, outcome);
  } finally {
    if (cluster) {
      await dropDatabase(cluster, name);
      await dropDatabase(cluster, templateOf(name));
      if (cluster.started) cluster.stop();
    }
  }
  outcome.tell();
  return outcome.failed.length === 0 ? 0 : 1;
}

function run(step: string, files: string[], outcome: Outcome): void {
  const began = performance.now();
  const report = path.join(os.tmpdir(), `stonetray-${process.pid}-${step}.json`);
  const command = {
    check: ['biome', 'check', '--error-on-warnings', '.'],
    types: ['tsc', '--noEmit'],
  }[step] ?? [
    'vitest',
    'run',
    '--project',
    step,
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${report}`,
    ...(files.length > 0 ? ['--passWithNoTests', ...files] : []),
  ];
  console.log(`\n== ${step}`);
  const { status } = spawnSync('npx', command, { cwd: ROOT, stdio: 'inherit' });
  console.log(`${step} took ${((performance.now() - began) / 1000).toFixed(0)} s`);
  if (status !== 0) outcome.failed.push(step);
  if (!SUITES.includes(step)) return;
  outcome.add(readReport(report));
  rmSync(report, { force: true });
}

function firstLine(message: string): string {
  return message.split('\n', 1)[0]!;
}

function readReport(file: string): Report | null {
  try {
    return JSON.parse(readFileSync(file, 'utf8')) as Report;
  } catch {
    return null;
  }
}
