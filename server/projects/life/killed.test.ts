import { spawn } from 'node:child_process';
import { afterAll, expect, it } from 'vitest';
import { gearUnit } from '#core/testing/projects';
import { closeDatabase } from '#server/db/connection';
import { readLog } from '#server/projects/projects';
import { testProject } from '#server/testing';

afterAll(closeDatabase);

/** Applies a change in a process of its own, which is killed just before a given statement is sent. */
function applyAndDie(project: string, statement: string): Promise<NodeJS.Signals | null> {
  const code = `
    const { database } = await import('#server/db/connection');
    const { ProjectFileSet } = await import('#server/projects/files/project-files');
    const { write } = await import('#core/project/change/change-set');
    database().on('start', (builder) => builder.on('query', ({ sql }) => sql.includes(${JSON.stringify(statement)}) && process.kill(process.pid, 'SIGKILL')));
    database().on('query', ({ sql }) => sql.includes(${JSON.stringify(statement)}) && process.kill(process.pid, 'SIGKILL'));
    const files = new ProjectFileSet(database(), ${JSON.stringify(project)});
    const changes = (await files.list()).map(({ path, sha256 }) => write(path, sha256, Buffer.from('new ' + path)));
    await files.applyAs({ summary: 'Never made', changes, rewires: [], warnings: [] });
  `;
  const child = spawn(process.execPath, ['--import', 'tsx', '--input-type=module', '-e', code], {
    env: process.env,
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  return new Promise((resolve) => child.on('exit', (_code, signal) => resolve(signal)));
}

it.each(['insert into "change_sets"', 'insert into "files"', 'insert into "log"', 'pg_notify'])(
  'a server killed at %s leaves the old state',
  async (statement) => {
    const { db, project, fileSet } = await testProject(gearUnit());
    const before = await fileSet.list();
    expect(await applyAndDie(project, statement)).toBe('SIGKILL');
    expect(await fileSet.list()).toEqual(before);
    expect((await readLog(db, project)).some(({ summary }) => summary === 'Never made')).toBe(false);
    // The lock went with the process: the next change goes through.
    const [first] = before;
    await fileSet.applyAs({
      summary: 'Goes on',
      rewires: [],
      warnings: [],
      changes: [{ action: 'delete', path: first!.path, base: first!.sha256 }],
    });
  },
);
