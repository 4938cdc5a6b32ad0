import type { Knex } from 'knex';

/** Files for outside that anybody may download from the catalogue, each in several formats. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('publications', (table) => {
    table.uuid('id').primary().defaultTo(db.raw('gen_random_uuid()'));
    // Who knows it finds the page: it cannot be guessed.
    table.text('token').notNullable().unique();
    table.uuid('project_id').notNullable().references('projects.id').onDelete('cascade');
    table.text('path').notNullable();
    table.text('sha256').notNullable();
    table.text('title').notNullable();
    table.jsonb('facts').notNullable();
    table.binary('image');
    table.uuid('user_id').references('users.id').onDelete('set null');
    table.timestamp('time').notNullable().defaultTo(db.fn.now());
    // Null while it is offered.
    table.timestamp('withdrawn');
    table.index(['project_id']);
  });
  await db.schema.createTable('publication_files', (table) => {
    table.uuid('publication_id').notNullable().references('publications.id').onDelete('cascade');
    table.text('format').notNullable();
    table.text('name').notNullable();
    table.binary('content').notNullable();
    table.integer('downloads').notNullable().defaultTo(0);
    table.primary(['publication_id', 'format']);
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable('publication_files');
  await db.schema.dropTable('publications');
}
