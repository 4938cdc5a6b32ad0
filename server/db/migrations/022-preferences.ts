import type { Knex } from 'knex';

/** How each person reads numbers and times. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('users', (table) => {
    table.jsonb('preferences').notNullable().defaultTo('{}');
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.alterTable('users', (table) => {
    table.dropColumn('preferences');
  });
}
