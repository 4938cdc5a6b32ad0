import type { Knex } from 'knex';

/**
 * Of plans: when somebody last asked how far one is (nobody listens, nobody needs it), and what it was asked for in which state of the
 * project (the same asked for again joins it). Of changes: the session that they were asked for in. Of workers: that they live.
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
  await db.schema.createTable('workers', (table) => {
    table.uuid('id').primary();
    table.timestamp('alive').notNullable().defaultTo(db.fn.now());
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable('workers');
  await db.schema.alterTable('tasks', (table) => {
    table.dropIndex(['state', 'kind', 'time']);
    table.dropIndex(['user_id', 'digest']);
    table.dropColumns('heard', 'digest', 'session', 'revision');
  });
}
