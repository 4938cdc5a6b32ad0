import type { Database } from './connection';
import * as base from './migrations/001-base';
import * as features from './migrations/002-features';
import * as packages from './migrations/003-packages';
import * as cuts from './migrations/004-cuts';
import * as tasks from './migrations/005-tasks';
import * as geometry from './migrations/006-geometry';
import * as linkKinds from './migrations/007-link-kinds';
import * as operations from './migrations/008-operations';
import * as fileIdentity from './migrations/009-file-identity';
import * as uploads from './migrations/010-uploads';
import * as exactShapes from './migrations/011-exact-shapes';
import * as keptValues from './migrations/012-kept-values';
import * as portraits from './migrations/013-portraits';
import * as publications from './migrations/014-publications';
import * as signsOfLife from './migrations/015-signs-of-life';
import * as signInAttempts from './migrations/016-sign-in-attempts';
import * as sessionsOfAPerson from './migrations/017-sessions-of-a-person';
import * as aProjectsLife from './migrations/018-a-projects-life';
import * as uploadParts from './migrations/019-upload-parts';
import * as fairShares from './migrations/020-fair-shares';
import * as broughtHistory from './migrations/021-brought-history';
import * as preferences from './migrations/022-preferences';
import * as starsAndPictures from './migrations/023-stars-and-pictures';
import * as offersRenewed from './migrations/024-offers-renewed';
import * as foundByWords from './migrations/025-found-by-words';
import * as health from './migrations/026-health';

const MIGRATIONS = {
  '001-base': base,
  '002-features': features,
  '003-packages': packages,
  '004-cuts': cuts,
  '005-tasks': tasks,
  '006-geometry': geometry,
  '007-link-kinds': linkKinds,
  '008-operations': operations,
  '009-file-identity': fileIdentity,
  '010-uploads': uploads,
  '011-exact-shapes': exactShapes,
  '012-kept-values': keptValues,
  '013-portraits': portraits,
  '014-publications': publications,
  '015-signs-of-life': signsOfLife,
  '016-sign-in-attempts': signInAttempts,
  '017-sessions-of-a-person': sessionsOfAPerson,
  '018-a-projects-life': aProjectsLife,
  '019-upload-parts': uploadParts,
  '020-fair-shares': fairShares,
  '021-brought-history': broughtHistory,
  '022-preferences': preferences,
  '023-stars-and-pictures': starsAndPictures,
  '024-offers-renewed': offersRenewed,
  '025-found-by-words': foundByWords,
  '026-health': health,
};

/** Brings the schema up to date. Migrations are named here, so that they are found in any build. */
export async function migrate(db: Database): Promise<void> {
  await db.migrate.latest({
    migrationSource: {
      getMigrations: async () => Object.keys(MIGRATIONS),
      getMigrationName: (name: string) => name,
      getMigration: async (name: string) => MIGRATIONS[name as keyof typeof MIGRATIONS],
    },
  });
}
