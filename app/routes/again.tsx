import { data } from 'react-router';
import { z } from 'zod';
import { choicesInWords } from '#core/choices-in-words';
import { plainEntry } from '#core/entry';
import { operationNamed } from '#core/operations';
import { inProject } from '#server/auth/guard';
import { recordedChange } from '#server/projects/projects';
import { AgainScreen } from '../screens/again/AgainScreen';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/again';

export const meta = titled('Again');

/** A recorded change that an operation made, to be made again with the same choices. */
export const loader = inProject('viewer', async ({ db, project }, { request }: Route.LoaderArgs) => {
  const id = z.uuid().safeParse(new URL(request.url).searchParams.get('change'));
  const change = id.success ? await recordedChange(db, project.id, id.data) : undefined;
  const operation = change && operationNamed(change.made.operation);
  if (!change || !operation)
    throw data('There is no change that can be made again. Choose one on the page Activity.', {
      status: 404,
    });
  return {
    ...change,
    entry: plainEntry(operation),
    words: choicesInWords(operation.choices, change.made.choices),
  };
});

export default function Again({ loaderData }: Route.ComponentProps) {
  return <AgainScreen {...loaderData} />;
}
