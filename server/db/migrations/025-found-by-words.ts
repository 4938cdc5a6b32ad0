import type { Knex } from 'knex';

/**
 * What a content is found by: names, ids and materials of its products, and the names of its components; with indexes of three letters each
 * over them and over the paths of files.
 */
export async function up(db: Knex): Promise<void> {
  await db.raw('create extension if not exists pg_trgm');
  await db.schema.alterTable('scans', (table) => {
    table.text('words').notNullable().defaultTo('');
  });
  await db.raw(`
    update scans set words = coalesce(left((
      select string_agg(concat_ws(' ', product->>'id', product->>'name', product->>'material'), E'\\n')
      from jsonb_array_elements(scan->'products') product), 100000), '')`);
  await db.raw('create index scans_words on scans using gin (lower(words) gin_trgm_ops)');
  await db.raw('create index files_path_words on files using gin (lower(path) gin_trgm_ops)');
  await db.raw('create index if not exists files_sha256 on files (sha256)');
}

export async function down(db: Knex): Promise<void> {
  await db.raw('drop index files_sha256');
  await db.raw('drop index files_path_words');
  await db.raw('drop index scans_words');
  await db.schema.alterTable('scans', (table) => {
    table.dropColumn('words');
  });
}
