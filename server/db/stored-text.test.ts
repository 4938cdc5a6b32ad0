import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closeDatabase, type Database, database } from './connection';
import { migrate } from './migrate';
import { storedJson, storedText } from './stored-text';

let db: Database;
beforeAll(async () => {
  db = database();
  await migrate(db);
});
afterAll(closeDatabase);

const ODD = ['a\0b', 'half \ud83d', '\udc00\ud800', 'a backslash \\u0000', 'fine ⌀ 😀', ''];

describe('text that nobody can have meant', () => {
  it('is stored all the same, and whatever is fine stays as it is', async () => {
    for (const text of ODD) {
      const json = storedJson({ text, [text]: [text] });
      const { rows } = await db.raw('select ?::jsonb as json, ?::text as text, ?::text[] as list', [
        json,
        text,
        [text],
      ]);
      const stored = storedText(text);
      expect(rows[0]).toEqual({ json: { text: stored, [stored]: [stored] }, text: stored, list: [stored] });
    }
    expect(storedText('a backslash \\u0000 ⌀ 😀')).toBe('a backslash \\u0000 ⌀ 😀');
  });

  it('leaves nothing behind that the database refuses, whatever it is', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.string({ unit: 'binary' }), { maxLength: 20 }), async (texts) => {
        const all = [...texts, ...ODD];
        const { rows } = await db.raw('select ?::jsonb as json', [storedJson(all)]);
        expect(rows[0].json).toEqual(all.map(storedText));
      }),
      { numRuns: 50 },
    );
  });
});
