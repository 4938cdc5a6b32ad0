import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { packageListSchema } from '#core/handoff/package-list';
import { ROOT } from './bootstrap.mjs';

/** Renews docs/package-list.schema.json; a test holds it to the code. */
writeFileSync(
  path.join(ROOT, 'docs/package-list.schema.json'),
  `${JSON.stringify(packageListSchema(), null, 2)}\n`,
);
