import path from 'node:path';
import type { CommandForm } from '#core/command/form';
import { slashed } from '#core/command/out-file';
import { patternFlags, patternOf } from '#core/command/pattern-flags';
import { type NamePattern, renamed } from '#core/name-pattern';
import { isCalled } from '#core/product/called';
import type { Project } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import type { RenameChoices, RenamedPart } from './operation';
import { partsBelow } from './parts';

/** `rename FILE [--component NAME...|--all] [--id ID] [--name NAME] [--find X --replace Y] [--prefix P] [--suffix S]`. */
export const RENAME_FORM: CommandForm<RenameChoices, { parts: RenamedPart[] }> = {
  ownFlags: ['parts'],
  flags: [
    {
      flag: '--component <NAME...>',
      words: 'the parts, each by its name, its id or its number; what the file is about unless they are said',
    },
    { flag: '--all', words: 'every part that the file places, to any depth, and itself' },
    { flag: '--id <ID>', words: 'the new id of the one part' },
    { flag: '--name <NAME>', words: 'the new name of the one part' },
    ...patternFlags('ids and names'),
  ],
  choices({ component = [], all = false, id, name, ...given }, { project }, root, _, argument) {
    const file = slashed(path.relative(root, path.resolve(argument)));
    const pattern = patternOf(given);
    const meant = all
      ? [...partsBelow(project, file)].flatMap((place) =>
          place.broken ? [] : [{ file: place.path, part: String(place.product.definition) }],
        )
      : component.length > 0
        ? (component as string[]).map((part) => ({ file, part }))
        : [{ file }];
    if (!pattern && id === undefined && name === undefined)
      throw new Refusal(
        'Say what they are called: --id, --name, --find with --replace, --prefix or --suffix.',
      );
    if (pattern && (id !== undefined || name !== undefined))
      throw new Refusal('Say --id and --name, or a pattern: not both.');
    if (!pattern && meant.length > 1)
      throw new Refusal('--id and --name are for one part: name many by --find, --prefix or --suffix.');
    const parts = meant.flatMap((one) => {
      if (!pattern) return [{ ...one, ...(id !== undefined && { id }), ...(name !== undefined && { name }) }];
      const anew = byPattern(project, one, pattern);
      return anew ? [{ ...one, ...anew }] : [];
    });
    if (parts.length === 0) throw new Refusal('None of them has that in its id or name.');
    return { parts };
  },
};

/** What a part is called by a pattern; nothing where that is what it is called already. */
function byPattern(
  project: Project,
  { file, part }: { file: string; part?: string },
  pattern: NamePattern,
): { id?: string; name?: string } | undefined {
  const own = part === undefined ? partsBelow(project, file).next().value?.product : undefined;
  const product =
    own ?? project.files.get(file)?.scan.products.find((one) => part !== undefined && isCalled(one, part));
  if (!product) throw new Refusal(`${file} has no part ${part ?? ''}.`.replace(' .', '.'));
  const [id, name] = [renamed(product.id, pattern), renamed(product.name, pattern)];
  if (id === product.id && name === product.name) return undefined;
  return { ...(product.id !== '' && id !== product.id && { id }), ...(name !== product.name && { name }) };
}
