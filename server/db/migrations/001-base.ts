import type { Knex } from 'knex';

/** docs/data-model.md tells what each table is for. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('users', (table) => {
    table.uuid('id').primary().defaultTo(db.raw('gen_random_uuid()'));
    table.text('email').notNullable();
    table.text('name').notNullable();
    table.text('password_hash').notNullable();
    table.timestamp('created_at').notNullable().defaultTo(db.fn.now());
  });
  await db.raw('create unique index users_email on users (lower(email))');
  await db.schema.createTable('sessions', (table) => {
    table.text('token_hash').primary();
    table.uuid('user_id').notNullable().references('users.id').onDelete('cascade');
    table.timestamp('expires_at').notNullable();
  });
  await db.schema.createTable('sign_in_failures', (table) => {
    table.text('email').notNullable().index();
    table.timestamp('time').notNullable().defaultTo(db.fn.now());
  });
  await db.schema.createTable('projects', (table) => {
    table.uuid('id').primary().defaultTo(db.raw('gen_random_uuid()'));
    table.text('name').notNullable();
    table.text('description').notNullable().defaultTo('');
    table.specificType('search_folders', 'text[]').notNullable().defaultTo('{}');
    table.bigInteger('revision').notNullable().defaultTo(0);
    table.timestamp('created_at').notNullable().defaultTo(db.fn.now());
  });
  await db.schema.createTable('members', (table) => {
    table.uuid('project_id').notNullable().references('projects.id').onDelete('cascade');
    table.uuid('user_id').notNullable().references('users.id').onDelete('cascade');
    table.text('role').notNullable().checkIn(['owner', 'editor', 'viewer']);
    table.primary(['project_id', 'user_id']);
  });
  await db.schema.createTable('blobs', (table) => {
    table.text('sha256').primary();
    table.bigInteger('bytes').notNullable();
  });
  await db.schema.createTable('blob_chunks', (table) => {
    table.text('sha256').notNullable().references('blobs.sha256').onDelete('cascade');
    table.integer('number').notNullable();
    table.binary('data').notNullable();
    table.primary(['sha256', 'number']);
  });
  await db.schema.createTable('scans', (table) => {
    table.text('sha256').notNullable();
    table.text('extension').notNullable();
    table.integer('version').notNullable();
    table.jsonb('scan').notNullable();
    table.primary(['sha256', 'extension', 'version']);
  });
  await db.schema.createTable('change_sets', (table) => {
    table.uuid('id').primary().defaultTo(db.raw('gen_random_uuid()'));
    table.uuid('project_id').notNullable().references('projects.id').onDelete('cascade');
    table.uuid('author_id').references('users.id');
    table.timestamp('time').notNullable().defaultTo(db.raw('clock_timestamp()'));
    table.text('summary').notNullable();
    table.jsonb('changes').notNullable();
    table.jsonb('rewires').notNullable();
    table.jsonb('warnings').notNullable();
    table.uuid('undoes').references('change_sets.id').unique();
    table.index(['project_id', 'time']);
  });
  await db.schema.createTable('files', (table) => {
    table.uuid('project_id').notNullable().references('projects.id').onDelete('cascade');
    table.text('path').notNullable();
    table.text('sha256').notNullable().references('blobs.sha256');
    table.bigInteger('bytes').notNullable();
    table.integer('version').notNullable();
    table.timestamp('time').notNullable().defaultTo(db.raw('clock_timestamp()'));
    table.primary(['project_id', 'path']);
  });
  await db.schema.createTable('versions', (table) => {
    table.uuid('project_id').notNullable().references('projects.id').onDelete('cascade');
    table.text('path').notNullable();
    table.integer('version').notNullable();
    table.text('sha256').notNullable().references('blobs.sha256');
    table.bigInteger('bytes').notNullable();
    table.uuid('author_id').references('users.id');
    table.timestamp('time').notNullable().defaultTo(db.raw('clock_timestamp()'));
    table.text('note').notNullable();
    table.uuid('change_set_id').notNullable().references('change_sets.id').onDelete('cascade');
    table.primary(['project_id', 'path', 'version']);
  });
  await db.schema.createTable('last_targets', (table) => {
    table.uuid('project_id').notNullable().references('projects.id').onDelete('cascade');
    table.text('holder').notNullable();
    table.text('written').notNullable();
    table.text('sha256').notNullable();
    table.text('path').notNullable();
    table.primary(['project_id', 'holder', 'written']);
  });
  await db.schema.createTable('log', (table) => {
    table.bigIncrements('id');
    table.uuid('project_id').notNullable().references('projects.id').onDelete('cascade');
    table.uuid('user_id').references('users.id');
    table.timestamp('time').notNullable().defaultTo(db.raw('clock_timestamp()'));
    table.text('kind').notNullable();
    table.text('summary').notNullable();
    table.uuid('change_set_id').references('change_sets.id').onDelete('cascade');
    table.index(['project_id', 'id']);
  });
  await db.schema.createTable('imports', (table) => {
    table.uuid('id').primary().defaultTo(db.raw('gen_random_uuid()'));
    table.uuid('project_id').notNullable().references('projects.id').onDelete('cascade');
    table.uuid('user_id').references('users.id');
    table.timestamp('time').notNullable().defaultTo(db.fn.now());
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
  await db.schema.createTable('import_files', (table) => {
    table.uuid('import_id').notNullable().references('imports.id').onDelete('cascade');
    table.text('path').notNullable();
    table.text('sha256').notNullable().references('blobs.sha256');
    table.bigInteger('bytes').notNullable();
    table.primary(['import_id', 'path']);
  });
  await db.schema.createTable('shapes', (table) => {
    table.text('sha256').notNullable();
    table.text('kernel').notNullable();
    table.text('quality').notNullable();
    table.text('state').notNullable().checkIn(['waiting', 'running', 'done', 'failed', 'cancelled']);
    table.integer('done').notNullable().defaultTo(0);
    table.integer('total').notNullable().defaultTo(0);
    table.text('gltf').references('blobs.sha256');
    table.jsonb('bodies');
    table.text('error');
    table.timestamp('time').notNullable().defaultTo(db.fn.now());
    table.primary(['sha256', 'kernel', 'quality']);
  });
}

export async function down(db: Knex): Promise<void> {
  for (const table of [
    'shapes',
    'import_files',
    'imports',
    'log',
    'last_targets',
    'versions',
    'files',
    'change_sets',
    'scans',
    'blob_chunks',
    'blobs',
    'members',
    'projects',
    'sign_in_failures',
    'sessions',
    'users',
  ]) {
    await db.schema.dropTableIfExists(table);
  }
}
