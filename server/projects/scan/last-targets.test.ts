import { afterAll, describe, expect, it } from 'vitest';
import { MemoryFileSet } from '#core/project/change/memory';
import { writeBoxPart } from '#core/testing/box-part';
import { testAssembly } from '#core/testing/projects';
import { closeDatabase } from '#server/db/connection';
import { testProject } from '#server/testing';
import { loadProject } from './project-scan';

afterAll(closeDatabase);

describe('links that are written alike', () => {
  it('are remembered each, by their kind', async () => {
    const assembly = Buffer.from(testAssembly('A', [{ written: 'b.stp', id: 'B' }])).toString('latin1');
    const [type] = /#\d+(?==DOCUMENT_TYPE)/.exec(assembly)!;
    const note = `#9001=DOCUMENT_FILE('b.stp','','',${type},'',$);\n`;
    const { db, project } = await testProject(
      new MemoryFileSet([
        ['a.stp', Buffer.from(assembly.replace('ENDSEC;\nEND-ISO', `${note}ENDSEC;\nEND-ISO`), 'latin1')],
        ['b.stp', writeBoxPart({ id: 'B' })],
      ]),
    );
    await loadProject(db, project);
    const rows = await db('last_targets')
      .where({ project_id: project })
      .orderBy('kind')
      .select('kind', 'path');
    expect(rows).toEqual([
      { kind: 'attachment', path: 'b.stp' },
      { kind: 'component', path: 'b.stp' },
    ]);
  });
});
