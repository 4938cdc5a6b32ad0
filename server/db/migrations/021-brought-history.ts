import type { Knex } from 'knex';

const DONE_BY = ['change_sets', 'versions', 'log'];

/** A history that came from another server names people who have no account here. */
export async function up(db: Knex): Promise<void> {
  for (const name of DONE_BY)
    await db.schema.alterTable(name, (table) => {
      table.text('author_name');
    });
}

export async function down(db: Knex): Promise<void> {
  for (const name of DONE_BY)
    await db.schema.alterTable(name, (table) => {
      table.dropColumn('author_name');
    });
}
