import { afterAll, describe, expect, it } from 'vitest';
import { write } from '#core/project/change/change-set';
import { sha256 } from '#core/project/change/file-set';
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

  it('are written again only where they lead elsewhere now', async () => {
    const { db, project, fileSet } = await testProject(
      new MemoryFileSet([
        [
          'a.stp',
          testAssembly('A', [
            { written: 'b.stp', id: 'B' },
            { written: 'c.stp', id: 'C' },
          ]),
        ],
        ['b.stp', writeBoxPart({ id: 'B' })],
        ['c.stp', writeBoxPart({ id: 'C' })],
      ]),
    );
    // The transaction that a row was written by.
    const written = async () => {
      await loadProject(db, project);
      const rows = await db('last_targets')
        .where('project_id', project)
        .select('written', db.raw('xmin::text'));
      return new Map(rows.map(({ written: name, xmin }) => [name as string, xmin as string]));
    };
    const before = await written();
    const newer = writeBoxPart({ id: 'C', boxes: [{ name: 'other', size: [1, 2, 3] }] });
    await fileSet.applyAs({
      summary: 'Another c',
      changes: [write('c.stp', sha256(await fileSet.read('c.stp')), newer)],
      rewires: [],
      warnings: [],
    });
    const after = await written();
    expect(after.get('b.stp')).toBe(before.get('b.stp'));
    expect(after.get('c.stp')).not.toBe(before.get('c.stp'));
  });
});
