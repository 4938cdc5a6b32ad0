import type { Knex } from 'knex';

/** What congruence looks at, body by body; kept apart from `bodies`, which every structure page reads. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('shapes', (table) => {
    table.jsonb('features');
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.alterTable('shapes', (table) => {
    table.dropColumn('features');
  });
}
