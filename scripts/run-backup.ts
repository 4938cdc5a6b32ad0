import { backUp, restore, verify } from './backup';
import { startPostgres } from './postgres';

/** `npm run backup -- FILE`, `npm run restore -- FILE --into URL`, `npm run verify-store`. */
const [command, file, flag, into] = process.argv.slice(2);
const USAGE = 'Usage: npm run backup -- FILE | npm run restore -- FILE --into URL | npm run verify-store';
try {
  if (command === 'restore') {
    if (!file || flag !== '--into' || !into) throw new Error(USAGE);
    await restore(file, into);
  } else {
    // The database that is set, or the demo's.
    const cluster = await startPostgres();
    try {
      const url = cluster.url('stonetray');
      if (command === 'verify') await verify(url);
      else if (command === 'backup' && file) await backUp(url, file);
      else throw new Error(USAGE);
    } finally {
      if (cluster.started) cluster.stop();
    }
  }
} catch (error) {
  console.error(error instanceof Error ? error.message : error);
  process.exitCode = 1;
}
