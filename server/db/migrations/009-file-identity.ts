import type { Knex } from 'knex';

/** A file is the same one under another path: its versions go on. Until now a path was all that a file was known by. */
export async function up(db: Knex): Promise<void> {
  for (const name of ['files', 'versions'])
    await db.schema.alterTable(name, (table) => {
      table.uuid('file_id');
    });
  await db.raw(`
    with known as (
      select project_id, path, gen_random_uuid() as file_id from versions group by project_id, path
    )
    update versions set file_id = known.file_id from known
    where versions.project_id = known.project_id and versions.path = known.path`);
  await db.raw(`
    update files set file_id = versions.file_id from versions
    where versions.project_id = files.project_id and versions.path = files.path`);
  await db('files')
    .whereNull('file_id')
    .update({ file_id: db.raw('gen_random_uuid()') });
  for (const name of ['files', 'versions'])
    await db.schema.alterTable(name, (table) => {
      table.dropNullable('file_id');
    });
  await db.schema.alterTable('versions', (table) => {
    table.dropPrimary();
    table.primary(['file_id', 'version']);
    table.index(['project_id', 'path']);
  });
}

/** Versions that a file got under another path keep the path; where two would have one number, the later one goes. */
export async function down(db: Knex): Promise<void> {
  await db.raw(`
    delete from versions a using versions b
    where a.project_id = b.project_id and a.path = b.path and a.version = b.version and a.ctid > b.ctid`);
  await db.schema.alterTable('versions', (table) => {
    table.dropPrimary();
    table.dropIndex(['project_id', 'path']);
    table.primary(['project_id', 'path', 'version']);
    table.dropColumn('file_id');
  });
  await db.schema.alterTable('files', (table) => {
    table.dropColumn('file_id');
  });
}
