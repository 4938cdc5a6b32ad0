import { spawn } from 'node:child_process';
import { existsSync, renameSync, rmSync } from 'node:fs';
import path from 'node:path';
import { Client } from 'pg';
import { connect } from '#server/db/connection';
import { verifyStore } from '#server/db/verify-store';
import { postgresPrograms } from './bootstrap.mjs';

/**
 * Writes a backup of a database into a file, whole or not at all.
 * @throws Error in words
 */
export async function backUp(url: string, file: string): Promise<void> {
  if (existsSync(file)) throw new Error(`${file} exists already. Choose another name, or remove it first.`);
  const part = `${file}.part`;
  try {
    await run('pg_dump', ['--format=custom', '--no-owner', '--file', part, url]);
    renameSync(part, file);
  } finally {
    rmSync(part, { force: true });
  }
}

/**
 * Fills an empty database from a backup, and checks every content.
 * @throws Error in words: for a database that is not empty, or a backup that is damaged
 */
export async function restore(file: string, url: string): Promise<void> {
  if (!existsSync(file)) throw new Error(`There is no file ${file}.`);
  const client = new Client({ connectionString: url });
  await client.connect();
  const { rows } = await client.query(
    `select count(*)::int as count from pg_tables where schemaname = 'public'`,
  );
  await client.end();
  if (rows[0].count > 0)
    throw new Error(
      'The database is not empty. A backup is restored into a new one: create it, and name that.',
    );
  await run('pg_restore', ['--no-owner', '--exit-on-error', '--single-transaction', '--dbname', url, file]);
  await verify(url);
}

/** Checks every content of a database. @throws Error that names those that are damaged */
export async function verify(url: string): Promise<void> {
  const db = connect(url);
  try {
    const { contents, bytes, damaged } = await verifyStore(db);
    if (damaged.length > 0)
      throw new Error(
        `${damaged.length} of ${contents} contents are damaged: ${damaged.slice(0, 10).join(', ')}. Restore them from a backup.`,
      );
    console.log(`${contents} contents, ${bytes.toLocaleString('en')} bytes: all are what they were.`);
  } finally {
    await db.destroy();
  }
}

function run(program: string, args: string[]): Promise<void> {
  const folder = postgresPrograms();
  const command = folder ? path.join(folder, program) : program;
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { stdio: ['ignore', 'inherit', 'pipe'] });
    let words = '';
    child.stderr.on('data', (text: Buffer) => {
      words += text;
    });
    child.on('error', reject);
    child.on('exit', (code) =>
      code === 0
        ? resolve()
        : reject(new Error(`${program} ended with code ${code}: ${words.trim().slice(0, 2000)}`)),
    );
  });
}
