import { randomBytes } from 'node:crypto';
import type { Knex } from 'knex';
import type { Offer, OfferedFiles } from '#core/planned';
import { storedJson } from '#server/db/stored-text';
import type { Owner } from '#server/jobs/tasks';

/** What is offered, written. */
export type WrittenOffer = Omit<Offer, 'write'> & OfferedFiles;

/**
 * Offers a file for download, to whoever has the address of its page. A file that is offered already keeps its address, and how often it was
 * taken.
 * @returns the end of that address
 */
export async function storeOffer(
  trx: Knex.Transaction,
  { project, user }: Owner,
  { path, title, sha256, facts, picture, files, madeFrom, choices }: WrittenOffer,
): Promise<string> {
  const offered = await trx('publications')
    .where({ project_id: project, path })
    .whereNull('withdrawn')
    .forUpdate()
    .first('id', 'token');
  const token: string = offered?.token ?? randomBytes(18).toString('base64url');
  const row = {
    sha256,
    title,
    facts: storedJson(facts),
    made_from: storedJson(madeFrom),
    choices: storedJson(choices),
    image: Buffer.from(picture),
    user_id: user,
    time: trx.fn.now(),
  };
  const [{ id }] = offered
    ? await trx('publications').where('id', offered.id).update(row).returning('id')
    : await trx('publications')
        .insert({ ...row, token, project_id: project, path })
        .returning('id');
  for (const { content, ...file } of files)
    await trx('publication_files')
      .insert({ publication_id: id, content: Buffer.from(content), offered: true, ...file })
      .onConflict(['publication_id', 'format'])
      .merge(['content', 'name', 'offered']);
  await trx('publication_files')
    .where('publication_id', id)
    .whereNotIn(
      'format',
      files.map(({ format }) => format),
    )
    .update({ offered: false, content: Buffer.alloc(0) });
  return token;
}
