import { createInterface } from 'node:readline/promises';
import { Writable } from 'node:stream';
import { z } from 'zod';
import { putUser } from '#server/auth/sessions';
import { closeDatabase, database } from '#server/db/connection';

/** `npm run user -- add MAIL "NAME"`: makes a user, or gives an existing one a new password. */
const [command, mail, name] = process.argv.slice(2);
const email = z.email().safeParse(mail);
if (command !== 'add' || !email.success || !name) {
  console.error('Usage: npm run user -- add MAIL "NAME"');
  process.exit(2);
}
const password = await askSecretly(`Password for ${email.data}: `);
if (password.length < 10) {
  console.error('The password needs 10 characters or more. Nothing was changed.');
  process.exit(2);
}
await putUser(database(), { email: email.data, name, password });
await closeDatabase();
console.log(`${name} can sign in now.`);

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
