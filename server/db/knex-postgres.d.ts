/** Knex's own client for PostgreSQL, which it documents as something to build on and has no types for. */
declare module 'knex/lib/dialects/postgres/index.js' {
  import { Knex } from 'knex';
  export default class PostgresClient extends Knex.Client {
    prepBindings(bindings?: readonly unknown[]): readonly unknown[] | undefined;
  }
}
