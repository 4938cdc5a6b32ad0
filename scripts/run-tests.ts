import { spawn, spawnSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { hasOutsideReader } from '#core/testing/outside-reader';
import { ROOT } from './bootstrap.mjs';
import { dropDatabase, ensureDatabase, startPostgres, templateOf } from './postgres';
import { buildIfStale } from './processes';

/** Steps that run side by side, each list in its order: one that waits for a database leaves a processor to one that computes. */
const LANES = [['check', 'types', 'unit', 'screens'], ['server']];
/** What draws in software, or measures time, has the machine to itself, at the end. */
const ALONE = ['e2e', 'timed'];
const STEPS = [...LANES.flat(), ...ALONE];
const SUITES = ['unit', 'screens', 'server', 'e2e', 'timed'];

/** So many tests are named with the time that they took. */
const SLOWEST = 10;

/** What is read of Vitest's report. */
interface Report {
  numPassedTests: number;
  numFailedTests: number;
  numPendingTests: number;
  testResults: { name: string; assertionResults: { fullName: string; duration?: number }[] }[];
}

/** What came of the steps so far. */
class Outcome {
  readonly failed: string[] = [];
  readonly counts = { passed: 0, failed: 0, skipped: 0 };
  readonly took: { what: string; seconds: number }[] = [];

  /** @param report of Vitest; null when there is none */
  add(report: Report | null): void {
    this.counts.passed += report?.numPassedTests ?? 0;
    this.counts.failed += report?.numFailedTests ?? 1;
    this.counts.skipped += report?.numPendingTests ?? 0;
    for (const { name: file, assertionResults } of report?.testResults ?? [])
      for (const { fullName, duration } of assertionResults)
        this.took.push({
          what: `${path.relative(ROOT, file)}: ${fullName}`,
          seconds: (duration ?? 0) / 1000,
        });
  }

  tell(): void {
    if (this.took.length > SLOWEST) {
      console.log(`\nThe slowest ${SLOWEST}:`);
      for (const { what, seconds } of this.took.sort((a, b) => b.seconds - a.seconds).slice(0, SLOWEST))
        console.log(`${seconds.toFixed(1).padStart(7)} s  ${what}`);
    }
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
 * PostgreSQL, the real interface in Chromium, and what is timed. Ends with a line that counts the tests. Names of steps as arguments run
 * only those; other arguments pick test files by a part of their name.
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
    if (wanted('e2e') || wanted('timed')) buildIfStale();
    const lanes = LANES.map((lane) => lane.filter(wanted)).filter((lane) => lane.length > 0);
    const isShared = lanes.length > 1;
    await Promise.all(
      lanes.map(async (lane) => {
        for (const step of lane) await run(step, files, outcome, isShared);
      }),
    );
    for (const step of ALONE.filter(wanted)) await run(step, files, outcome, false);
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

/** @param isShared whether another lane runs beside this one: then its output is shown as a whole */
async function run(step: string, files: string[], outcome: Outcome, isShared: boolean): Promise<void> {
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
  const child = spawn('npx', command, {
    cwd: ROOT,
    stdio: isShared ? ['ignore', 'pipe', 'pipe'] : 'inherit',
  });
  const output: Buffer[] = [];
  child.stdout?.on('data', (piece) => output.push(piece));
  child.stderr?.on('data', (piece) => output.push(piece));
  if (!isShared) console.log(`\n== ${step}`);
  const status = await new Promise((resolve) => child.once('close', resolve));
  if (isShared) console.log(`\n== ${step}\n${Buffer.concat(output)}`);
  console.log(`${step} took ${((performance.now() - began) / 1000).toFixed(0)} s`);
  if (status !== 0) outcome.failed.push(step);
  if (!SUITES.includes(step)) return;
  outcome.add(readReport(report));
  rmSync(report, { force: true });
}

function readReport(file: string): Report | null {
  try {
    return JSON.parse(readFileSync(file, 'utf8')) as Report;
  } catch {
    return null;
  }
}
