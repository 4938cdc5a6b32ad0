import { operation } from '#core/operation';
import type { Planning } from '#core/planning';
import { manifestOn } from '#core/project/change/project-manifest';
import { MANIFEST_NAME, withKeptView } from '#core/project/formats/manifest';
import { Refusal } from '#core/refusal';
import { ViewChoices } from './choices';

/** Keeps how an assembly is looked at, under a name, in the project's manifest; or takes such a view out. */
export const VIEW = operation<ViewChoices, { isThere: boolean }, unknown, Planning>({
  name: 'view',
  title: 'Keep a view',
  purpose: 'Keep where one looks from, what is hidden, the section and the colours, under a name.',
  place: 'structure',
  page: 'structure',
  role: 'editor',
  accepts: { what: 'project', isUnlisted: true },
  choices: ViewChoices,
  cost: 'quick',
  async plan({ project, draft }, { name, view }) {
    if (view && !project.files.has(view.root)) throw new Refusal(`There is no file ${view.root}.`);
    const manifest = await manifestOn(draft);
    const { bytes, isThere } = withKeptView(manifest, name, view && { name, ...view });
    if (!view && !isThere) throw new Refusal(`No view is called ${name}.`);
    await draft.write(MANIFEST_NAME, bytes);
    if (view) draft.linked({ holder: MANIFEST_NAME, kind: 'view', written: view.root }, view.root);
    const done = view ? (isThere ? 'Kept the view anew' : 'Kept the view') : 'Took out the view';
    return { change: await draft.finish(`${done} ${name}`), preview: { isThere } };
  },
});
