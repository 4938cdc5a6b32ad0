import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { packageListSchema } from '#core/jobs/handoff/package-list';
import { projectExportSchema } from '#core/project/change/project-export';
import { manifestSchema } from '#core/project/formats/manifest';
import { ROOT } from './bootstrap.mjs';

/** Renews the published schemas in docs/; tests hold them to the code. */
const SCHEMAS = {
  'package-list.schema.json': packageListSchema(),
  'stonetray-project.schema.json': manifestSchema(),
  'project-export.schema.json': projectExportSchema(),
};
for (const [name, schema] of Object.entries(SCHEMAS))
  writeFileSync(path.join(ROOT, 'docs', name), `${JSON.stringify(schema, null, 2)}\n`);
