import { existsSync } from 'node:fs';
import { mkdir, open, readFile, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { stemOf } from '#core/files/links/paths';
import type { ChangeSet } from '#core/project/change/change-set';
import { hasStructure, NEW_ENDING } from '#core/project/formats/endings';
import { Refusal } from '#core/refusal';

/** Where `--out` leads: into the project, as its choices have it, or somewhere else. */
export interface OutFile {
  full: string;
  isInside: boolean;
  folder: string;
  pattern: string;
}

/** @throws Refusal for a file that is there already */
export function outFile(out: string, root: string): OutFile {
  const full = path.resolve(out);
  if (existsSync(full)) throw new Refusal(`${out} exists already. Choose another name, or remove it first.`);
  const relative = slashed(path.relative(root, full));
  const isInside = relative !== '' && !relative.startsWith('../') && !path.isAbsolute(relative);
  const folder = isInside ? slashed(path.dirname(relative)) : '';
  if (!hasStructure(slashed(full)) && isInside)
    throw new Refusal(`${out} would be a STEP file: give it the ending .${NEW_ENDING}.`);
  return { full, isInside, folder: folder === '.' ? '' : folder, pattern: stemOf(slashed(full)) };
}

/** The choices of an operation that makes one file where `--out` leads. Outside of the project nothing ties it to what it was made from. */
export function outChoices(out: string, root: string): { folder?: string; tie?: false; pattern: string } {
  const { isInside, folder, pattern } = outFile(out, root);
  return { pattern, ...(isInside ? { folder } : { tie: false }) };
}

/** Writes what was planned where `--out` leads, if that is outside of the project. @returns whether it is */
export async function applyOutside({ changes }: ChangeSet, out: string, root: string): Promise<boolean> {
  const { full, isInside } = outFile(out, root);
  if (isInside) return false;
  const [made] = changes;
  if (made?.action !== 'write' || !made.content) throw new Refusal('There is nothing to write.');
  await writeWhole(full, made.content);
  return true;
}

/** Writes a file outside of every project: beside its place first, so that it is whole or not there. */
export async function writeWhole(full: string, content: Uint8Array): Promise<void> {
  await mkdir(path.dirname(full), { recursive: true });
  const beside = `${full}.part-${process.pid}`;
  try {
    const file = await open(beside, 'wx');
    await file.writeFile(content);
    await file.sync();
    await file.close();
    await rename(beside, full);
  } catch (error) {
    await rm(beside, { force: true });
    throw error;
  }
}

/** A path of this system as projects write it. */
export function slashed(relative: string): string {
  return relative.split(path.sep).join('/');
}

/** A text file beside a command. @throws Refusal for one that cannot be read */
export async function readText(file: string): Promise<string> {
  return readFile(path.resolve(file), 'utf8').catch(() => {
    throw new Refusal(`${file} cannot be read: is it there, and a file?`);
  });
}
