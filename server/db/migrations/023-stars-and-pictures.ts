import type { Knex } from 'knex';

/**
 * What a person has marked to find it again, when they last opened each project, a small picture of each content with shapes, and which
 * file an entry of the log is about where no change says so.
 */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('stars', (table) => {
    table.uuid('user_id').notNullable();
    table.uuid('project_id').notNullable();
    // The file, wherever it lies.
    table.uuid('file_id').notNullable();
    table.primary(['user_id', 'project_id', 'file_id']);
    table
      .foreign(['project_id', 'user_id'])
      .references(['project_id', 'user_id'])
      .inTable('members')
      .onDelete('cascade');
  });
  await db.schema.alterTable('members', (table) => {
    table.boolean('starred').notNullable().defaultTo(false);
    table.timestamp('opened', { useTz: true });
  });
  await db.schema.alterTable('shapes', (table) => {
    // PNG.
    table.binary('picture');
  });
  await db.schema.alterTable('log', (table) => {
    table.uuid('file_id');
    table.index('file_id');
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable('stars');
  await db.schema.alterTable('members', (table) => {
    table.dropColumns('starred', 'opened');
  });
  await db.schema.alterTable('shapes', (table) => {
    table.dropColumn('picture');
  });
  await db.schema.alterTable('log', (table) => {
    table.dropColumn('file_id');
  });
}
