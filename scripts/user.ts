import { createInterface } from 'node:readline/promises';
import { Writable } from 'node:stream';
import { Command } from 'commander';
import { z } from 'zod';
import { refusalOf } from '#core/refusal';
import { putUser } from '#server/auth/sessions';
import { closeDatabase, database } from '#server/db/connection';
import { deletePerson, handOver, listPeople, setDisabled } from '#server/projects/people/people';
import { startPostgres } from './postgres';

/** Characters that a password needs. */
const PASSWORD_LENGTH = 10;

/** `npm run user -- ...`: what whoever runs the server does with its people. */
const program = new Command('npm run user --').description('The people of this server');
program
  .command('add')
  .argument('<mail>')
  .argument('<name>')
  .description('makes a user, or gives an existing one a new password')
  .action(async (mail: string, name: string) => {
    const email = z.email().safeParse(mail);
    if (!email.success) return fail(`${mail} is no e-mail address. Nothing was changed.`);
    const password = await askSecretly(`Password for ${mail}: `);
    if (password.length < PASSWORD_LENGTH)
      return fail(`The password needs ${PASSWORD_LENGTH} characters or more. Nothing was changed.`);
    await putUser(database(), { email: mail, name, password });
    console.log(`${name} can sign in now.`);
  });
program
  .command('list')
  .description('shows everybody')
  .action(async () => {
    for (const { name, email, projects, isDisabled } of await listPeople(database()))
      console.log([email, name, `${projects} projects`, ...(isDisabled ? ['disabled'] : [])].join('\t'));
  });
program
  .command('disable')
  .argument('<mail>')
  .description('ends all sessions of somebody and lets them in no more; what they did stays')
  .action(async (mail: string) => {
    await setDisabled(database(), mail, true);
    console.log(
      `${mail} is signed out and cannot sign in. To take that back: npm run user -- enable ${mail}`,
    );
  });
program
  .command('enable')
  .argument('<mail>')
  .description('lets somebody in again')
  .action(async (mail: string) => {
    await setDisabled(database(), mail, false);
    console.log(`${mail} can sign in again.`);
  });
program
  .command('delete')
  .argument('<mail>')
  .description('deletes somebody for good; what they did stays, without their name')
  .action(async (mail: string) => {
    await deletePerson(database(), mail);
    console.log(`${mail} is gone.`);
  });
program
  .command('hand-over')
  .argument('<from>')
  .argument('<to>')
  .description('makes somebody owner of each project whose only owner another is')
  .action(async (from: string, to: string) => {
    const projects = await handOver(database(), from, to);
    console.log(
      projects.length === 0
        ? `${from} is the only owner of nothing.`
        : `${to} owns now: ${projects.join(', ')}.`,
    );
  });

// The database that is set, or the demo's.
const cluster = await startPostgres();
process.env.DATABASE_URL = cluster.url('stonetray');
try {
  await program.parseAsync();
} catch (error) {
  const words = refusalOf(error);
  if (words === undefined) throw error;
  fail(words);
} finally {
  await closeDatabase();
  if (cluster.started) cluster.stop();
}

function fail(words: string): void {
  console.error(words);
  process.exitCode = 2;
}

/** Reads a line without showing it. */
async function askSecretly(question: string): Promise<string> {
  process.stdout.write(question);
  const silent = new Writable({ write: (_chunk, _encoding, done) => done() });
  const lines = createInterface({ input: process.stdin, output: silent, terminal: process.stdin.isTTY });
  const answer = await lines.question('');
  lines.close();
  process.stdout.write('\n');
  return answer;
}
