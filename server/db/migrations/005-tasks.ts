import type { Knex } from 'knex';
import * as packages from './003-packages';
import * as cuts from './004-cuts';

/**
 * One table for all work that somebody waits for, in the place of one for each kind. What it replaces was kept for a day
 * only and can be asked for again.
 */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('tasks', (table) => {
    table.uuid('id').primary().defaultTo(db.raw('gen_random_uuid()'));
    table.uuid('project_id').notNullable().references('projects.id').onDelete('cascade');
    table.uuid('user_id').notNullable().references('users.id').onDelete('cascade');
    table.timestamp('time').notNullable().defaultTo(db.fn.now());
    table.text('kind').notNullable();
    table.jsonb('request').notNullable();
    table
      .text('state')
      .notNullable()
      .checkIn(['waiting', 'running', 'done', 'failed', 'cancelled'])
      .defaultTo('waiting');
    table.text('doing').notNullable().defaultTo('');
    table.integer('done').notNullable().defaultTo(0);
    table.integer('total').notNullable().defaultTo(0);
    table.jsonb('result');
    table.text('error');
    table.index(['project_id', 'kind', 'time']);
    table.index('time');
  });
  await db.schema.createTable('task_blobs', (table) => {
    table.uuid('task_id').notNullable().references('tasks.id').onDelete('cascade');
    table.text('sha256').notNullable().references('blobs.sha256');
    table.primary(['task_id', 'sha256']);
    table.index('sha256');
  });
  await packages.down(db);
  await cuts.down(db);
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTableIfExists('task_blobs');
  await db.schema.dropTableIfExists('tasks');
  await packages.up(db);
  await cuts.up(db);
}
