import { spawn } from 'node:child_process';
import { mkdir, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { FolderFileSet } from '#core/project/change/folder/folder';

/** What came of changes that were killed. */
export interface Killed {
  kills: number;
  /** Folders in the old state, and in the new one, after the next command. */
  old: number;
  new: number;
  /** Folders in neither: there may be none. */
  broken: number;
  /** Kills that left a change to be finished. */
  cutOff: number;
}

const VICTIM = path.join(import.meta.dirname, 'victim.ts');
/** Files that are changed. */
const FILES = 12;

/** Kills processes in the middle of a change to a folder, each at a moment of its own, and looks at what the next command finds. */
export async function killChanges(kills: number, atOnce: number): Promise<Killed> {
  const result: Killed = { kills: 0, old: 0, new: 0, broken: 0, cutOff: 0 };
  // Those at the same time wait for each other.
  const window = atOnce * (await timeOfChange());
  let left = kills;
  const one = async () => {
    while (left-- > 0) {
      const folder = await mkdtemp(path.join(os.tmpdir(), 'stonetray-soak-'));
      await fill(folder);
      const before = await stateOf(folder);
      await killed(folder, window * Math.random());
      const isCutOff = (await (await FolderFileSet.open(folder)).interrupted()) !== null;
      const after = await (async () => {
        const files = await FolderFileSet.openToChange(folder);
        await files.apply({ summary: 'Looked', changes: [], rewires: [], warnings: [] });
        return stateOf(folder);
      })().catch((error: Error) => `error: ${error.message}`);
      result.kills++;
      if (isCutOff) result.cutOff++;
      if (after === before) result.old++;
      else if (after === before.replaceAll('old ', 'new ').replaceAll('gone.txt', 'moved.txt')) result.new++;
      else {
        result.broken++;
        console.log(`In neither state: ${folder}\n${after}`);
        continue;
      }
      await rm(folder, { recursive: true, force: true });
    }
  };
  await Promise.all(Array.from({ length: atOnce }, one));
  return result;
}

/** Milliseconds that a change takes which nobody kills: within them the kills come. */
async function timeOfChange(): Promise<number> {
  const folder = await mkdtemp(path.join(os.tmpdir(), 'stonetray-soak-'));
  await fill(folder);
  const took = await new Promise<number>((resolve, reject) => {
    const victim = spawn(process.execPath, ['--import', 'tsx', VICTIM, folder, String(FILES)], {
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    victim.on('error', reject);
    let began = 0;
    victim.stdout.on('data', (words: Buffer) => {
      if (words.includes('ended')) resolve(performance.now() - began);
      else began = performance.now();
    });
  });
  await rm(folder, { recursive: true, force: true });
  return took;
}

async function fill(folder: string): Promise<void> {
  await mkdir(path.join(folder, 'in'));
  for (let n = 0; n < FILES; n++) await writeFile(path.join(folder, 'in', `${n}.txt`), `old ${n}`);
  await writeFile(path.join(folder, 'in', 'gone.txt'), 'goes along');
}

/** Every file with its content, but for the records. */
async function stateOf(folder: string): Promise<string> {
  const names = (await readdir(path.join(folder, 'in'))).sort();
  const lines = await Promise.all(
    names.map(async (name) => `${name}: ${await readFile(path.join(folder, 'in', name), 'utf8')}`),
  );
  return lines.join('\n');
}

/** Starts a change in a process, and kills that some time after it has begun. */
function killed(folder: string, after: number): Promise<void> {
  return new Promise((resolve, reject) => {
    const victim = spawn(process.execPath, ['--import', 'tsx', VICTIM, folder, String(FILES)], {
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    victim.on('error', reject);
    victim.stdout.once('data', () => setTimeout(() => victim.kill('SIGKILL'), after));
    victim.on('exit', () => resolve());
  });
}
