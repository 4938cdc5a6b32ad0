import type { Knex } from 'knex';

/** Cuts that were tried on a body; their pieces are blobs that go again after a day. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('cuts', (table) => {
    table.uuid('id').primary().defaultTo(db.raw('gen_random_uuid()'));
    table.uuid('project_id').notNullable().references('projects.id').onDelete('cascade');
    table.uuid('user_id').notNullable().references('users.id').onDelete('cascade');
    table.timestamp('time').notNullable().defaultTo(db.fn.now());
    table.text('path').notNullable();
    table.text('sha256').notNullable().references('blobs.sha256');
    table.integer('body').notNullable();
    table.jsonb('steps').notNullable();
    table
      .text('state')
      .notNullable()
      .checkIn(['waiting', 'running', 'done', 'failed', 'cancelled'])
      .defaultTo('waiting');
    table.integer('done').notNullable().defaultTo(0);
    table.text('gltf').references('blobs.sha256');
    table.jsonb('pieces');
    table.text('error');
    table.index(['project_id', 'user_id', 'time']);
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTableIfExists('cuts');
}
