import { readFileSync, writeFileSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { Part21File } from '#core/files/part21/file';
import { GROUP_OCCURRENCES, MOVE_OCCURRENCES } from '#core/jobs/arrange/operation';
import { PUT_OUT } from '#core/jobs/putout/operation';
import { TAKE_IN } from '#core/jobs/takein/operation';
import { planOperation } from '#core/operation';
import { planningOn } from '#core/planning';
import { placementFromAxes } from '#core/product/matrix';
import { readStructure } from '#core/product/structure';
import { writeAssembly } from '#core/product/write-assembly';
import { MemoryFileSet } from '#core/project/change/memory';
import { scanFileSet } from '#core/project/scan/scan';
import { writeBoxPart } from '#core/testing/box-part';
import { compare, type Result } from './measure';

const TOP = 'top.stp';
const GOAL = { most: 6 };
/** Four times as many take four times as long where cost is linear, and 5.3 times where it grows with their logarithm, too. */
const LINEAR = { most: 6 };

/** Many files become one, and files again. */
export async function restructuring(): Promise<Result[]> {
  const [few, many] = [await assemblyOf(75), await assemblyOf(300)];
  const folder = await mkdtemp(path.join(os.tmpdir(), 'restructuring-'));
  try {
    for (const [name, bytes] of many.entries) writeFileSync(path.join(folder, name), bytes);
    const readAndWrite = () => {
      for (const [name] of many.entries) {
        const bytes = readFileSync(path.join(folder, name));
        Part21File.read(bytes);
        writeFileSync(path.join(folder, `${name}.copy`), bytes);
      }
    };
    const [inOne, fewInOne] = [await madeOne(many), await madeOne(few)];
    const takingIn = await compare(() => takeIn(many), readAndWrite, 5, 1);
    const takingMore = await compare(
      () => takeIn(many),
      () => takeIn(few),
      5,
      1,
    );
    const puttingOut = await compare(() => putOut(inOne), readAndWrite, 3, 1);
    const puttingMore = await compare(
      () => putOut(inOne),
      () => putOut(fewInOne),
      3,
      1,
    );
    const [placings, fewer] = [await placedOften(5000), await placedOften(1250)];
    const moving = await compare(
      () => move(placings),
      () => readStructure(Part21File.read(placings.entries.at(-1)![1])),
      5,
      1,
    );
    const movingMore = await compare(
      () => move(placings),
      () => move(fewer),
      5,
      1,
    );
    const size = many.entries.reduce((sum, [, bytes]) => sum + bytes.length, 0);
    const note = `300 files, ${(size / 1e6).toFixed(1)} MB`;
    const same = 'reading and writing the same bytes';
    return [
      { what: 'Taking 300 files in', against: same, ratio: takingIn.ratio, goal: GOAL, note },
      { what: 'Taking 300 files in', against: 'the same of 75', ratio: takingMore.ratio, goal: LINEAR, note },
      { what: 'Putting 300 components out', against: same, ratio: puttingOut.ratio, goal: GOAL, note },
      {
        what: 'Putting 300 components out',
        against: 'the same of 75',
        ratio: puttingMore.ratio,
        goal: LINEAR,
        note,
      },
      {
        what: 'Moving 4,000 of 5,000 occurrences',
        against: 'reading their structure',
        ratio: moving.ratio,
        goal: GOAL,
        note: 'shown before it is done',
      },
      {
        what: 'Moving 4,000 of 5,000 occurrences',
        against: 'the same of a quarter',
        ratio: movingMore.ratio,
        goal: LINEAR,
        note: 'shown before it is done',
      },
    ];
  } finally {
    await rm(folder, { recursive: true });
  }
}

interface MadeUp {
  entries: [string, Uint8Array][];
  files: MemoryFileSet;
  project: Awaited<ReturnType<typeof scanFileSet>>;
}

async function assemblyOf(count: number): Promise<MadeUp> {
  const parts = Array.from({ length: count }, (_, n): [string, Uint8Array] => [
    `part-${n}.stp`,
    writeBoxPart({ id: `P${n}`, name: `Part ${n}`, boxes: [{ size: [10 + n, 20, 30] }, {}, {}, {}] }),
  ]);
  const components = parts.map(([written], n) => ({
    id: `P${n}`,
    name: `Part ${n}`,
    written,
    placings: [{ name: `Part ${n}`, placement: placementFromAxes([100 * n, 0, 0]) }],
  }));
  const top = writeAssembly({
    id: 'TOP',
    name: 'Top',
    fileName: TOP,
    timeStamp: '2026-01-01T00:00:00',
    components,
  });
  return madeUp([...parts, [TOP, top]]);
}

async function madeUp(entries: [string, Uint8Array][]): Promise<MadeUp> {
  const files = new MemoryFileSet(entries);
  return { entries, files, project: await scanFileSet(files) };
}

/** The same in one file. */
async function madeOne(made: MadeUp): Promise<MadeUp> {
  const { change } = await takeIn(made);
  const one = change.changes.find(({ path: changed }) => changed === TOP)!;
  const files = new MemoryFileSet(made.entries);
  await files.apply(change);
  return madeUp([[TOP, await files.read(one.path)]]);
}

function takeIn({ files, project }: MadeUp) {
  return planOperation(TAKE_IN, planningOn(project, files), { file: TOP });
}

function putOut({ files, project }: MadeUp) {
  return planOperation(PUT_OUT, planningOn(project, files), { file: TOP, all: true });
}

/** An assembly of 100 parts that places them so many times in all, and a group beside them. */
async function placedOften(count: number): Promise<MadeUp> {
  const parts = Array.from({ length: 100 }, (_, n): [string, Uint8Array] => [
    `p${n}.stp`,
    writeBoxPart({ id: `P${n}` }),
  ]);
  const components = parts.map(([written], n) => ({
    id: `P${n}`,
    name: `P${n}`,
    written,
    placings: Array.from({ length: count / 100 }, (_, k) => ({
      name: `P${n} ${k}`,
      placement: placementFromAxes([10 * k, 10 * n, 0]),
    })),
  }));
  const written = { id: 'TOP', name: 'Top', fileName: TOP, timeStamp: '2026-01-01T00:00:00', components };
  const plain = await madeUp([...parts, [TOP, writeAssembly(written)]]);
  const grouped = { file: TOP, occurrences: occurrencesOf(plain).slice(0, 2), name: 'Group' };
  const { change } = await planOperation(GROUP_OCCURRENCES, planningOn(plain.project, plain.files), grouped);
  await plain.files.apply(change);
  return madeUp([...parts, [TOP, await plain.files.read(TOP)]]);
}

function occurrencesOf({ project }: MadeUp): string[] {
  const { products } = project.files.get(TOP)!.scan;
  return products.flatMap(({ occurrences }) => occurrences.map(({ id }) => String(id)));
}

function move(made: MadeUp) {
  const all = occurrencesOf(made);
  const occurrences = all.slice(2, 2 + 0.8 * all.length);
  const choices = { file: TOP, occurrences, into: 'Group' };
  return planOperation(MOVE_OCCURRENCES, planningOn(made.project, made.files), choices);
}
