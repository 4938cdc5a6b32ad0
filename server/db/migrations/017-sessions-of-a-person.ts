import type { Knex } from 'knex';

/** What a person reads of a session: since when, when it was last used, in which browser; and a name to end it by that opens nothing. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('sessions', (table) => {
    table.uuid('id').notNullable().unique().defaultTo(db.raw('gen_random_uuid()'));
    table.timestamp('opened').notNullable().defaultTo(db.fn.now());
    table.timestamp('seen').notNullable().defaultTo(db.fn.now());
    table.text('browser').notNullable().defaultTo('');
    table.index(['user_id']);
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.alterTable('sessions', (table) => {
    table.dropIndex(['user_id']);
    table.dropColumns('id', 'opened', 'seen', 'browser');
  });
}
