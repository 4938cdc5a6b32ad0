import type { Knex } from 'knex';

/** Where what somebody did stays when the person goes: by table, the column that says who. */
const DONE_BY = [
  ['change_sets', 'author_id'],
  ['versions', 'author_id'],
  ['log', 'user_id'],
] as const;

/**
 * Members join by accepting; projects are archived, deleted and brought back; people are disabled, or go and leave what they did. Contents know
 * since when they are there: what nothing refers to is collected when it is old enough.
 */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('projects', (table) => {
    table.timestamp('archived');
    table.timestamp('deleted');
  });
  await db.schema.alterTable('users', (table) => {
    table.timestamp('disabled');
  });
  await db.schema.createTable('invitations', (table) => {
    table.uuid('id').primary().defaultTo(db.raw('gen_random_uuid()'));
    table.uuid('project_id').notNullable().references('projects.id').onDelete('cascade');
    table.text('email').notNullable();
    table.text('role').notNullable().checkIn(['owner', 'editor', 'viewer']);
    table.uuid('invited_by').references('users.id').onDelete('set null');
    table.timestamp('time').notNullable().defaultTo(db.fn.now());
  });
  await db.raw('create unique index invitations_once on invitations (project_id, lower(email))');
  await db.raw('create index invitations_email on invitations (lower(email))');
  await db.schema.alterTable('blobs', (table) => {
    table.timestamp('time').notNullable().defaultTo(db.fn.now());
  });
  for (const [name, column] of DONE_BY) await referToUsers(db, name, column, 'SET NULL');
  await referToUsers(db, 'uploads', 'user_id', 'CASCADE', 'imports_user_id_foreign');
  // What the collector asks of each content.
  for (const [name, column] of CONTENTS_OF)
    await db.raw('create index ?? on ?? (??)', [`${name}_${column}_content`, name, column]);
}

/** Where contents are referred to and no index led to them. */
const CONTENTS_OF = [
  ['versions', 'sha256'],
  ['files', 'sha256'],
  ['upload_files', 'sha256'],
  ['shapes', 'gltf'],
] as const;

async function referToUsers(
  db: Knex,
  name: string,
  column: string,
  onDelete: 'SET NULL' | 'CASCADE' | 'NO ACTION',
  before = `${name}_${column}_foreign`,
): Promise<void> {
  await db.schema.alterTable(name, (table) => {
    table.dropForeign(column, before);
  });
  await db.schema.alterTable(name, (table) => {
    table.foreign(column, `${name}_${column}_foreign`).references('users.id').onDelete(onDelete);
  });
}

export async function down(db: Knex): Promise<void> {
  for (const [name, column] of CONTENTS_OF) await db.raw('drop index ??', [`${name}_${column}_content`]);
  for (const [name, column] of DONE_BY) await referToUsers(db, name, column, 'NO ACTION');
  await db.schema.alterTable('uploads', (table) => {
    table.dropForeign('user_id');
    table.foreign('user_id', 'imports_user_id_foreign').references('users.id');
  });
  await db.schema.alterTable('blobs', (table) => {
    table.dropColumn('time');
  });
  await db.schema.dropTable('invitations');
  await db.schema.alterTable('users', (table) => {
    table.dropColumn('disabled');
  });
  await db('projects').whereNotNull('deleted').delete();
  await db.schema.alterTable('projects', (table) => {
    table.dropColumns('archived', 'deleted');
  });
}
