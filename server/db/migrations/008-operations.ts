import type { Knex } from 'knex';

/** A change remembers the operation that planned it, and its choices. Tasks of kinds that are gone end in words. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('change_sets', (table) => {
    table.jsonb('made');
  });
  await db('tasks').whereIn('state', ['waiting', 'running']).update({
    state: 'failed',
    doing: '',
    error: 'The server was renewed while this was waiting. Nothing was changed; ask for it again.',
  });
}

export async function down(db: Knex): Promise<void> {
  await db.schema.alterTable('change_sets', (table) => {
    table.dropColumn('made');
  });
}
