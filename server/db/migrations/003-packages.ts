import type { Knex } from 'knex';

/** Packages that were asked for; the zip is a blob that goes again after a day. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('packages', (table) => {
    table.uuid('id').primary().defaultTo(db.raw('gen_random_uuid()'));
    table.uuid('project_id').notNullable().references('projects.id').onDelete('cascade');
    table.uuid('user_id').notNullable().references('users.id').onDelete('cascade');
    table.timestamp('time').notNullable().defaultTo(db.fn.now());
    table.jsonb('options').notNullable();
    table
      .text('state')
      .notNullable()
      .checkIn(['waiting', 'running', 'done', 'failed', 'cancelled'])
      .defaultTo('waiting');
    table.text('doing').notNullable().defaultTo('');
    table.integer('done').notNullable().defaultTo(0);
    table.integer('total').notNullable().defaultTo(0);
    table.text('name').notNullable().defaultTo('');
    table.text('sha256').references('blobs.sha256');
    table.text('error');
    table.index(['project_id', 'user_id', 'time']);
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTableIfExists('packages');
}
