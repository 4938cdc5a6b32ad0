import type { Knex } from 'knex';

/** A link is known by its holder, its kind and what is written: a component and a note may be written alike. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('last_targets', (table) => {
    table.text('kind').notNullable().defaultTo('component');
    table.dropPrimary();
  });
  await db.schema.alterTable('last_targets', (table) => {
    table.primary(['project_id', 'holder', 'kind', 'written']);
  });
}

export async function down(db: Knex): Promise<void> {
  await db('last_targets').whereNot('kind', 'component').delete();
  await db.schema.alterTable('last_targets', (table) => {
    table.dropPrimary();
    table.dropColumn('kind');
  });
  await db.schema.alterTable('last_targets', (table) => {
    table.primary(['project_id', 'holder', 'written']);
  });
}
