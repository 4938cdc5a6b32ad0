import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { NODE_BUILD } from '../scripts/build-node.mjs';
import { buildIfStale } from '../scripts/processes';
import { compare, type Result } from './measure';

const ROOT = path.join(import.meta.dirname, '..');
const PARTS = path.join(ROOT, 'demo/files/hx-12/standard');
const WASHER = path.join(PARTS, 'washer-m10.stp');

/** The bare kernel: started, and a file read and translated. */
const BARE_KERNEL = `
  import { readFileSync } from 'node:fs';
  import init from 'replicad-opencascadejs';
  const oc = await init({ print: () => {}, printErr: () => {} });
  oc.FS.writeFile('a.stp', readFileSync(${JSON.stringify(WASHER)}));
  const reader = new oc.STEPControl_Reader();
  reader.ReadFile('a.stp');
  reader.TransferRoots(new oc.Message_ProgressRange());
`;

function node(...args: string[]): void {
  const { status, stderr } = spawnSync(process.execPath, args, { cwd: ROOT, encoding: 'utf8' });
  if (status === null || status > 1) throw new Error(stderr);
}

/** What commands cost from their start, as whole processes, against what nobody can do without. */
export async function starting(): Promise<Result[]> {
  buildIfStale();
  const stonetray = (...args: string[]) => node(path.join(ROOT, 'bin/stonetray'), ...args);
  const nothing = () => node('-e', '0');
  const help = await compare(() => stonetray('--help'), nothing, 9);
  const scan = await compare(() => stonetray('scan', PARTS), nothing, 9);
  const bodies = await compare(
    () => stonetray('bodies', WASHER),
    () => node('--input-type=module', '-e', BARE_KERNEL),
    3,
  );
  const note = `built in ${path.relative(ROOT, NODE_BUILD)}`;
  return [
    { what: '`stonetray --help`', against: '`node -e 0`', ratio: help.ratio, goal: { most: 4 }, note },
    {
      what: '`scan` of a small folder',
      against: '`node -e 0`',
      ratio: scan.ratio,
      goal: { most: 8 },
      note,
    },
    {
      what: '`bodies` of a washer',
      against: 'the bare kernel, started and reading it',
      ratio: bodies.ratio,
      goal: { most: 1.5 },
      note,
    },
  ];
}
