import { closeDatabase, database } from '#server/db/connection';
import { migrate } from '#server/db/migrate';

await migrate(database());
await closeDatabase();
console.log('The database is up to date.');
