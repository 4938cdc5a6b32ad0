import type { Knex } from 'knex';

/** A picture of each root assembly, as PNG, and the state of the project that it shows. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('portraits', (table) => {
    table.uuid('project_id').notNullable().references('projects.id').onDelete('cascade');
    table.text('path').notNullable();
    table.text('shows').notNullable();
    // Null where nothing of it has a shape.
    table.binary('image');
    table.primary(['project_id', 'path']);
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable('portraits');
}
