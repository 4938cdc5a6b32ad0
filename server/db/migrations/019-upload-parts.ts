import type { Knex } from 'knex';

/** Files that are sent in parts, as far as they have come: sending goes on from there. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('upload_parts', (table) => {
    table.uuid('upload_id').notNullable().references('uploads.id').onDelete('cascade');
    table.text('path').notNullable();
    // What it is called until it is whole.
    table.text('sha256').notNullable().references('blobs.sha256').onDelete('cascade');
    table.bigInteger('bytes').notNullable().defaultTo(0);
    table.primary(['upload_id', 'path']);
    table.index(['sha256']);
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.dropTable('upload_parts');
}
