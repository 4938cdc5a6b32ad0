import { spawnSync } from 'node:child_process';

const READER = 'check_urdf';

/** Whether this machine has an independent reader of URDF: it is for tests only. */
export const hasUrdfReader = spawnSync(READER, ['--help']).error === undefined;

/** What the independent reader says of a URDF file. @throws Error where it refuses the file */
export function checkUrdf(file: string): string {
  const { status, stdout, stderr } = spawnSync(READER, [file], { encoding: 'utf8' });
  if (status !== 0) throw new Error(`${stdout}\n${stderr}`);
  return stdout;
}
