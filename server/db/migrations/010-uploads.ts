import type { Knex } from 'knex';

/** An import is an operation like any other: what is left of it here is what was sent for one. */
export async function up(db: Knex): Promise<void> {
  await db('imports').delete();
  await db.schema.renameTable('import_files', 'upload_files');
  await db.schema.renameTable('imports', 'uploads');
  await db.schema.alterTable('upload_files', (table) => {
    table.renameColumn('import_id', 'upload_id');
  });
  await db.schema.alterTable('uploads', (table) => {
    table.dropColumns('on_conflict', 'state', 'doing', 'done', 'total', 'result');
    table.boolean('sent').notNullable().defaultTo(false);
    table.jsonb('refused').notNullable().defaultTo('[]');
    table.index('time');
  });
}

export async function down(db: Knex): Promise<void> {
  await db('uploads').delete();
  await db.schema.renameTable('upload_files', 'import_files');
  await db.schema.renameTable('uploads', 'imports');
  await db.schema.alterTable('import_files', (table) => {
    table.renameColumn('upload_id', 'import_id');
  });
  await db.schema.alterTable('imports', (table) => {
    table.dropIndex('time', 'uploads_time_index');
    table.dropColumns('sent', 'refused');
    table.text('on_conflict').notNullable().checkIn(['keep', 'replace', 'both']);
    table
      .text('state')
      .notNullable()
      .checkIn(['uploading', 'waiting', 'running', 'done', 'failed', 'cancelled'])
      .defaultTo('uploading');
    table.text('doing').notNullable().defaultTo('');
    table.integer('done').notNullable().defaultTo(0);
    table.integer('total').notNullable().defaultTo(0);
    table.jsonb('result');
  });
}
