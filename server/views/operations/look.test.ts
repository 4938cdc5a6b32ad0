import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { MemoryFileSet } from '#core/project/change/memory';
import { closeDatabase, type Database } from '#server/db/connection';
import { testProject } from '#server/testing';
import { lookAt, shownAnswer } from './look';

const HOSTILE = '<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>';
const LONG = 'ä'.repeat(200_000);

let db: Database;
let project: string;
beforeAll(async () => {
  ({ db, project } = await testProject(
    new MemoryFileSet([
      ['drawings/a.svg', Buffer.from(HOSTILE)],
      ['report.html', Buffer.from('<script>alert(1)</script>')],
      ['notes.md', Buffer.from('# Notes')],
      ['long.txt', Buffer.from(LONG)],
      ['plate.STL', Buffer.from('solid plate')],
      ['same-as.bin', Buffer.from(HOSTILE)],
    ]),
  ));
});
afterAll(closeDatabase);

describe('a file that is looked at', () => {
  it('comes as text as far as somebody reads, or as what a page shows', async () => {
    expect(await lookAt(db, project, 'notes.md')).toMatchObject({
      as: 'markdown',
      text: '# Notes',
      isCut: false,
    });
    expect(await lookAt(db, project, 'drawings/a.svg')).toMatchObject({ as: 'image', text: null });
    const long = await lookAt(db, project, 'long.txt');
    expect(long).toMatchObject({ isCut: true });
    expect(LONG.startsWith(long!.text!)).toBe(true);
    expect(long!.text!.length).toBe(150_000);
    expect(await lookAt(db, project, 'same-as.bin')).toBeNull();
    expect(await lookAt(db, project, 'plate.STL')).toMatchObject({ as: 'mesh', mesh: 'stl', text: null });
    expect(await lookAt(db, project, 'gone.txt')).toBeUndefined();
  });

  it('runs nothing and fetches nothing, whatever is in it', async () => {
    for (const path of ['drawings/a.svg', 'report.html']) {
      const { sha256 } = (await lookAt(db, project, path))!;
      const answer = (await shownAnswer(db, project, { sha256, path }))!;
      const policy = answer.headers.get('Content-Security-Policy');
      expect(policy).toMatch(/^sandbox; default-src 'none';/);
      expect(policy).not.toContain('script');
      expect(answer.headers.get('X-Content-Type-Options')).toBe('nosniff');
      expect(answer.headers.get('Content-Disposition')).toBe(`inline; filename=${path.split('/').at(-1)}`);
      expect(answer.headers.get('Content-Type')).toBe(
        path.endsWith('svg') ? 'image/svg+xml' : 'text/html; charset=utf-8',
      );
    }
  });

  it('is shown as what its own name says, and as nothing else', async () => {
    const { sha256 } = (await lookAt(db, project, 'drawings/a.svg'))!;
    // The same content under a name that is shown nowhere, or that the project does not have.
    expect(await shownAnswer(db, project, { sha256, path: 'same-as.bin' })).toBeUndefined();
    expect(await shownAnswer(db, project, { sha256, path: 'else.html' })).toBeUndefined();
  });
});
