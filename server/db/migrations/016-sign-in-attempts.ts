import type { Knex } from 'knex';

/** Attempts to sign in are counted by the address on the network as well, and before a password is looked at. */
export async function up(db: Knex): Promise<void> {
  await db.schema.renameTable('sign_in_failures', 'sign_in_attempts');
  await db.schema.alterTable('sign_in_attempts', (table) => {
    table.text('origin').notNullable().defaultTo('');
    table.index(['origin', 'time']);
    table.index(['time']);
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.alterTable('sign_in_attempts', (table) => {
    table.dropIndex(['origin', 'time']);
    table.dropIndex(['time']);
    table.dropColumn('origin');
  });
  await db.schema.renameTable('sign_in_attempts', 'sign_in_failures');
}
