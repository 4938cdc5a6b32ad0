import { createHash } from 'node:crypto';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { readdir, readFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { Part21File } from '#core/files/part21/file';
import { OcctStepFile, startOcct } from '#core/geometry/shape/occt';
import { readStructure } from '#core/product/structure';
import { FolderFileSet } from '#core/project/change/folder/folder';
import { readStepLinks, scanStepLinks } from '#core/project/formats/step/links';
import { scanContent } from '#core/project/scan/content';
import { resolveProject, type ScannedFile } from '#core/project/scan/project';
import { readAhead } from '#core/project/scan/read-ahead';
import { scanFileSet } from '#core/project/scan/scan';
import { giving } from './giving';
import { largePart, manyFiles } from './made-up';
import { compare, holds, type Result } from './measure';
import { repairing } from './repairing';
import { restructuring } from './restructuring';
import { sealing } from './sealing';
import { splitting } from './splitting';
import { starting } from './starting';

const hash = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

/** All measurements; each is a ratio within this run. */
export async function bench(): Promise<Result[]> {
  return [
    ...(await starting()),
    ...(await reading()),
    ...(await projects()),
    ...(await splitting()),
    ...(await restructuring()),
    ...(await giving()),
    ...(await sealing()),
  ];
}

async function reading(): Promise<Result[]> {
  const part = largePart(18);
  const size = `${(part.length / 1e6).toFixed(1)} MB, ${Part21File.read(part).instanceCount.toLocaleString('en')} instances`;
  const index = await compare(
    () => Part21File.read(part),
    () => hash(part),
    21,
  );
  const links = await compare(
    () => scanStepLinks(part),
    () => hash(part),
    21,
  );
  const checked = await compare(
    () => [hash(part), readAll(Part21File.read(part, { check: true }))],
    () => [hash(part), readAll(Part21File.read(part))],
    21,
  );

  const oc = await startOcct();
  const smaller = largePart(4);
  const kernel = await compare(
    () => {
      using _file = new OcctStepFile(oc, smaller, new Set());
    },
    () => scanContent('part.stp', smaller),
    5,
  );
  return [
    {
      what: 'Index of all instances',
      against: 'SHA-256 of the same bytes',
      ratio: index.ratio,
      goal: { most: 1.5 },
      note: size,
    },
    {
      what: 'Scan of links only',
      against: 'SHA-256 of the same bytes',
      ratio: links.ratio,
      goal: { most: 0.6 },
      note: size,
    },
    {
      what: 'Hash and scan of a file that looks for references to what is not there',
      against: 'the same without looking',
      ratio: checked.ratio,
      goal: { most: 1.1 },
      note: size,
    },
    {
      what: 'The kernel reading the file',
      against: 'scan of the same bytes',
      ratio: kernel.ratio,
      goal: { least: 20 },
      note: `${(smaller.length / 1e6).toFixed(1)} MB; reading only, before any body is translated`,
    },
  ];
}

/** What a scan reads of a file besides its index. */
function readAll(file: Part21File): unknown {
  return [readStepLinks(file), readStructure(file)];
}

async function projects(): Promise<Result[]> {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'stonetray-bench-'));
  try {
    const make = (name: string, count: number) => {
      for (const [file, content] of manyFiles(count)) {
        const full = path.join(folder, name, file);
        mkdirSync(path.dirname(full), { recursive: true });
        writeFileSync(full, content);
      }
      return path.join(folder, name);
    };
    const [half, whole] = [make('half', 5000), make('whole', 10_000)];
    const scan = async (root: string) => scanFileSet(await FolderFileSet.open(root));
    const linksOnly = await compare(
      () => scanLinks(whole),
      () => hashAll(whole),
      5,
    );
    const against = await compare(
      () => scan(whole),
      () => hashAll(whole),
      5,
    );
    const growth = await compare(
      () => scan(whole),
      () => scan(half),
      5,
    );
    const scanned = await scan(whole);
    const { links, files } = scanned;
    const note = `${files.size.toLocaleString('en')} files, ${links.length.toLocaleString('en')} links, on disk`;
    return [
      {
        what: 'Links of a project: read, hash, scan, resolve',
        against: 'reading and hashing its files',
        ratio: linksOnly.ratio,
        goal: { most: 1.5 },
        note,
      },
      {
        what: 'The same with products, placements and bodies',
        against: 'reading and hashing its files',
        ratio: against.ratio,
        goal: { most: 1.6 },
        note,
      },
      {
        what: 'Scan of twice the files',
        against: 'scan of the half',
        ratio: growth.ratio,
        goal: { most: 2.1 },
        note,
      },
      ...(await repairing(scanned, () => scan(whole))),
    ];
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Every link of every file, resolved, with each file hashed; nothing else of the files is looked at. */
async function scanLinks(root: string): Promise<number> {
  const scanned: ScannedFile[] = [];
  const paths = (await readdir(root, { recursive: true, withFileTypes: true }))
    .filter((entry) => entry.isFile())
    .map(({ parentPath, name }) => path.join(parentPath, name));
  for await (const { item: full, content } of readAhead(paths, (file) => readFile(file))) {
    const bytes = await content;
    const scan = {
      format: 'step',
      role: 'part' as const,
      schema: null,
      unit: null,
      products: [],
      placeholders: [],
      error: null,
      links: scanStepLinks(bytes),
      oldForms: [],
      damage: null,
    };
    scanned.push({ path: path.relative(root, full), bytes: bytes.length, sha256: hash(bytes), scan });
  }
  return resolveProject(scanned).links.length;
}

async function hashAll(root: string): Promise<number> {
  let count = 0;
  for (const entry of await readdir(root, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile()) continue;
    hash(await readFile(path.join(entry.parentPath, entry.name)));
    count++;
  }
  return count;
}

/** The results as the table of docs/bench.md. */
export function table(results: readonly Result[]): string {
  const lines = results.map((result) => {
    const goal =
      result.goal === null
        ? ''
        : 'most' in result.goal
          ? `at most ${result.goal.most}`
          : `at least ${result.goal.least}`;
    return `| ${result.what} | ${result.against} | ${result.ratio.toFixed(2)} | ${goal} | ${result.goal === null ? '' : holds(result) ? 'yes' : 'no'} | ${result.note} |`;
  });
  return [
    '| what | against | ratio | goal | holds | measured on |',
    '| --- | --- | ---: | --- | --- | --- |',
    ...lines,
  ].join('\n');
}
