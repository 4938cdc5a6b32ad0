import type { Knex } from 'knex';

/** What something that is offered was made from, and how it is offered: so that it can be renewed, and held against its original. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('publications', (table) => {
    // [{ path, sha256 }]: null for what was published before this was kept.
    table.jsonb('made_from');
    table.jsonb('choices');
  });
  await db.schema.alterTable('publication_files', (table) => {
    // A format that is no longer offered keeps how often it was taken.
    table.boolean('offered').notNullable().defaultTo(true);
  });
}

export async function down(db: Knex): Promise<void> {
  await db('publication_files').where('offered', false).delete();
  await db.schema.alterTable('publication_files', (table) => {
    table.dropColumn('offered');
  });
  await db.schema.alterTable('publications', (table) => {
    table.dropColumns('made_from', 'choices');
  });
}
