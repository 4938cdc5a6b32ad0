import type { Knex } from 'knex';

const TABLES = ['tasks', 'shapes'];

/** When the worker that does something last said that it lives, and how often it was begun: work of a worker that died is taken up again. */
export async function up(db: Knex): Promise<void> {
  for (const name of TABLES)
    await db.schema.alterTable(name, (table) => {
      table.timestamp('alive');
      table.integer('attempts').notNullable().defaultTo(0);
    });
}

export async function down(db: Knex): Promise<void> {
  for (const name of TABLES)
    await db.schema.alterTable(name, (table) => {
      table.dropColumns('alive', 'attempts');
    });
}
