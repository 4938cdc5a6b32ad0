import { buffer } from 'node:stream/consumers';
import { RouterContextProvider } from 'react-router';
import { afterAll, expect, it } from 'vitest';
import { keyOfValue } from '#core/long-value';
import { gearUnit } from '#core/testing/projects';
import { zipContents } from '#core/testing/zip-contents';
import { enterProject } from '#server/auth/guard';
import { signIn } from '#server/auth/sessions';
import { closeDatabase } from '#server/db/connection';
import { keepValue } from '#server/projects/files/kept-values';
import { testProject } from '#server/testing';
import { loader } from './files-zip';

afterAll(closeDatabase);

it('hands out some files as they are, with their folders, also where their names are too long for an address', async () => {
  const { db, owner, project, fileSet } = await testProject(gearUnit());
  const signed = await signIn(db, new Request('http://stone.test/'), owner.email, 'test-password');
  const ask = async (what: string) => {
    const request = new Request(`http://stone.test/x?${new URLSearchParams({ what })}`, {
      headers: { Cookie: signed.split(';')[0]! },
    });
    const context = new RouterContextProvider();
    enterProject({ request, context }, project);
    return loader({ request, context, params: { projectId: project } } as never);
  };
  const what = JSON.stringify(['unit.stp', 'parts/base.stp', 'not/there.stp']);
  const key = keyOfValue(what);
  await keepValue(db, { user: owner.id, project }, key, what);
  for (const written of [what, key]) {
    const answer = await ask(written);
    expect(answer.headers.get('Content-Disposition')).toContain('2 files.zip');
    const contents = await zipContents(await buffer(answer.body as never));
    expect([...contents.keys()]).toEqual(['unit.stp', 'parts/base.stp']);
    expect(contents.get('parts/base.stp')).toEqual(Buffer.from(await fileSet.read('parts/base.stp')));
  }
  await expect(ask('["gone.stp"]')).rejects.toMatchObject({ status: 404 });
});
