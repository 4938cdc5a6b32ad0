import type { Knex } from 'knex';

/** Surfaces and curves of each body, to be measured; kept apart from what every page reads. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('shapes', (table) => {
    table.jsonb('exact');
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.alterTable('shapes', (table) => {
    table.dropColumn('exact');
  });
}
