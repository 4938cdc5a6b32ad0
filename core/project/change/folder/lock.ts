import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { link, readdir, rename, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { z } from 'zod';
import { Refusal } from '#core/refusal';
import { diskCode, infoOf, readPlain } from './disk';

const Owner = z.object({
  host: z.string(),
  process: z.number().int(),
  /** When that process began, as the system counts: numbers of processes are given again. */
  began: z.string(),
  time: z.iso.datetime(),
  token: z.uuid(),
});
type Owner = z.infer<typeof Owner>;

/** Milliseconds that somebody else is waited for, and between two looks. */
const [PATIENCE, PAUSE] = [5000, 60];
/** An owner on another machine is believed for this long, milliseconds: its life cannot be looked at. */
const ELSEWHERE = 60 * 60 * 1000;

/**
 * Holds a lock while something is done. One that was left by a process that is gone is taken over.
 * @param file of the lock; its folder is there
 * @throws Refusal when somebody else holds it for longer than is waited
 */
export async function withLock<Made>(file: string, work: () => Promise<Made>): Promise<Made> {
  const token = await acquire(file);
  try {
    await clearLeft(file);
    return await work();
  } finally {
    await release(file, token);
  }
}

async function acquire(file: string): Promise<string> {
  const own: Owner = {
    host: os.hostname(),
    process: process.pid,
    began: beganAt(process.pid),
    time: new Date().toISOString(),
    token: randomUUID(),
  };
  // Written whole beside its place, and linked there: nobody ever reads half of one.
  const beside = `${file}-${own.token}`;
  await writeFile(beside, JSON.stringify(own), { flag: 'wx' });
  try {
    for (const end = Date.now() + PATIENCE; ; ) {
      try {
        await link(beside, file);
        return own.token;
      } catch (error) {
        if (diskCode(error) !== 'EEXIST') throw error;
      }
      const holder = await holderOf(file);
      if (holder === null) continue;
      if (holder === 'nobody' || isGone(holder)) {
        await takeAway(file, holder === 'nobody' ? null : holder.token);
        continue;
      }
      if (Date.now() > end)
        throw new Refusal(
          `Somebody else is changing this folder: process ${holder.process} on ${holder.host}, since ${holder.time}. Wait until that is done, and try again.`,
        );
      await new Promise((resolve) => setTimeout(resolve, PAUSE));
    }
  } finally {
    await rm(beside, { force: true });
  }
}

/** What lies beside a lock because whoever wrote it was killed goes, now that nobody else clears up. Those that still wait keep theirs. */
async function clearLeft(file: string): Promise<void> {
  const [folder, name] = [path.dirname(file), path.basename(file)];
  for (const entry of await readdir(folder)) {
    if (!entry.startsWith(`${name}-`) || !z.uuid().safeParse(entry.slice(name.length + 1)).success) continue;
    const left = path.join(folder, entry);
    const writer = await holderOf(left);
    const isLeft = writer === 'nobody' ? await isOld(left) : writer !== null && isGone(writer);
    if (isLeft) await rm(left, { force: true });
  }
}

/** Whether nothing was written into a file for so long that nobody is about to. */
async function isOld(file: string): Promise<boolean> {
  const info = await infoOf(file);
  return info !== undefined && Date.now() - info.mtimeMs > ELSEWHERE;
}

/** Who holds a lock; null when nobody does any more, `nobody` for a lock that says nothing. */
async function holderOf(file: string): Promise<Owner | 'nobody' | null> {
  const bytes = await readPlain(file);
  if (bytes === undefined) return (await infoOf(file)) ? 'nobody' : null;
  try {
    return Owner.parse(JSON.parse(Buffer.from(bytes).toString('utf8')));
  } catch {
    return 'nobody';
  }
}

function isGone({ host, process: number, began, time }: Owner): boolean {
  if (host !== os.hostname()) return Date.now() - new Date(time).getTime() > ELSEWHERE;
  try {
    process.kill(number, 0);
  } catch (error) {
    if (diskCode(error) === 'ESRCH') return true;
  }
  const now = beganAt(number);
  return now !== '' && began !== '' && now !== began;
}

/** When a process began, in ticks since the machine did; '' where the system does not say. */
function beganAt(number: number): string {
  try {
    const text = readFileSync(`/proc/${number}/stat`, 'utf8');
    return text.slice(text.lastIndexOf(')') + 2).split(' ')[19] ?? '';
  } catch {
    return '';
  }
}

/** Takes a lock away that somebody left. Should another have taken it over meanwhile, it gets its own back. */
async function takeAway(file: string, token: string | null): Promise<void> {
  const aside = `${file}-${randomUUID()}`;
  await rename(file, aside).catch((error) => {
    if (diskCode(error) !== 'ENOENT') throw error;
  });
  const taken = await holderOf(aside);
  if (taken !== null && taken !== 'nobody' && taken.token !== token) await link(aside, file).catch(() => {});
  await rm(aside, { force: true });
}

async function release(file: string, token: string): Promise<void> {
  const holder = await holderOf(file);
  if (holder !== null && holder !== 'nobody' && holder.token === token) await rm(file, { force: true });
}
