import { afterAll, expect, it } from 'vitest';
import { keyOfValue } from '#core/long-value';
import { closeDatabase } from '#server/db/connection';
import { testProject } from '#server/testing';
import { keepValue, keptValue } from './kept-values';

afterAll(closeDatabase);

it('values are kept under their own keys only, and of each person so many', async () => {
  const { db, project, owner } = await testProject();
  const who = { project, user: owner.id };
  const [one, other] = ['a selection', 'another'];
  await expect(keepValue(db, who, keyOfValue(other), one)).rejects.toThrow('does not go with');
  await keepValue(db, who, keyOfValue(one), one);
  expect(await keptValue(db, project, keyOfValue(one))).toBe(one);
  // What was asked for longest ago goes first.
  await db('kept_values').update({ time: db.raw(`now() - interval '1 day'`) });
  const long = (n: number) => `${n}`.padEnd(4_000_000, 'x');
  for (let n = 0; n < 5; n++) await keepValue(db, who, keyOfValue(long(n)), long(n));
  const kept = await db('kept_values').where('project_id', project).pluck('key');
  expect(kept.sort()).toEqual([1, 2, 3, 4].map((n) => keyOfValue(long(n))).sort());
});
