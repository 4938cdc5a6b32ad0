import { pathInFolder } from '#core/command/folder-path';
import type { CommandForm } from '#core/command/form';
import { baseName, joinPath } from '#core/files/links/paths';
import { Refusal } from '#core/refusal';
import type { MoveChoices } from './operation';

/** `mv DIR FROM TO`: paths in DIR; what goes to a folder that is there goes into it. */
export const MOVE_FORM: CommandForm<MoveChoices, unknown> = {
  arguments: '<FROM> <TO>',
  choices(_, { project }, __, [from, to]) {
    const [source, target] = [from, to].map((path) => pathInFolder(String(path)));
    if (/^([A-Za-z]:|\/)/.test(target!))
      throw new Refusal(`${target} is outside of the folder: both paths are those below DIR.`);
    const folder = target!.replace(/\/+$/, '');
    const isFolder =
      folder === '' ||
      folder === '.' ||
      [...project.files.keys()].some((path) => path.startsWith(`${folder}/`));
    const name = baseName(source!.replace(/\/+$/, ''));
    const into = isFolder || target!.endsWith('/');
    return { moves: [{ from: source!, to: into ? joinPath(folder === '.' ? '' : folder, name) : target! }] };
  },
};
