import { baseName, joinPath } from '#core/files/links/paths';
import type { MoveChoices } from '#core/jobs/move/operation';
import type { RemoveChoices } from '#core/jobs/remove/operation';
import type { CommandForm } from './operation-command';

/** `mv DIR FROM TO`: paths in DIR; what goes to a folder that is there goes into it. */
export const MOVE_FORM: CommandForm<MoveChoices, unknown> = {
  arguments: '<FROM> <TO>',
  choices(_, { project }, __, [from, to]) {
    const [source, target] = [from, to].map((path) =>
      String(path).replaceAll('\\', '/').replace(/^\.\//, ''),
    );
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

/** `rm DIR PATH...`: paths in DIR. */
export const REMOVE_FORM: CommandForm<RemoveChoices, unknown> = {
  arguments: '<PATH...>',
  ownFlags: ['paths'],
  choices: (_, __, ___, [paths]) => ({
    paths: (paths as string[]).map((path) => path.replaceAll('\\', '/').replace(/^\.\//, '')),
  }),
};
