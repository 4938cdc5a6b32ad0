import type { Knex } from 'knex';

/** Values that are too long for an address, by a short key. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('kept_values', (table) => {
    table.uuid('project_id').notNullable().references('projects.id').onDelete('cascade');
    table.text('key').notNullable();
    table.text('value').notNullable();
    table.timestamp('time').notNullable().defaultTo(db.fn.now());
    table.primary(['project_id', 'key']);
    table.index(['time']);
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable('kept_values');
}
