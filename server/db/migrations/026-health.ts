import type { Knex } from 'knex';

/** How many links of a project were in which state after each of its changes. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('health', (table) => {
    table.uuid('project_id').notNullable().references('projects.id').onDelete('cascade');
    table.bigInteger('revision').notNullable();
    table.timestamp('time', { useTz: true }).notNullable();
    // { sound, behind, missing, ambiguous, loop }
    table.jsonb('links').notNullable();
    table.primary(['project_id', 'revision']);
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable('health');
}
