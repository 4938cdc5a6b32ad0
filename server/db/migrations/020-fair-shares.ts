import type { Knex } from 'knex';

/**
 * Of plans: when somebody last asked how far one is (nobody listens, nobody needs it), and what it was asked for in which state of the
 * project (the same asked for again joins it). Of changes: the session that they were asked for in. Of workers: that they live. Of
 * long values: who had them kept.
 */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('tasks', (table) => {
    table.timestamp('heard').notNullable().defaultTo(db.fn.now());
    table.text('digest');
    table.text('session');
    table.bigInteger('revision');
    table.index(['user_id', 'digest']);
    table.index(['state', 'kind', 'time']);
  });
  await db.schema.alterTable('kept_values', (table) => {
    table.uuid('user_id').references('users.id').onDelete('set null');
    table.index(['project_id', 'user_id', 'time']);
  });
  await db.schema.createTable('workers', (table) => {
    table.uuid('id').primary();
    table.timestamp('alive').notNullable().defaultTo(db.fn.now());
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable('workers');
  await db.schema.alterTable('kept_values', (table) => {
    table.dropIndex(['project_id', 'user_id', 'time']);
    table.dropColumn('user_id');
  });
  await db.schema.alterTable('tasks', (table) => {
    table.dropIndex(['state', 'kind', 'time']);
    table.dropIndex(['user_id', 'digest']);
    table.dropColumns('heard', 'digest', 'session', 'revision');
  });
}
