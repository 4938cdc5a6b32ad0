import type { Knex } from 'knex';

/** What shapes are made from: contents that differ in names or links only share them. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('shapes', (table) => {
    table.text('geometry');
    table.index(['geometry']);
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.alterTable('shapes', (table) => {
    table.dropColumn('geometry');
  });
}
