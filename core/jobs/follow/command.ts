import path from 'node:path';
import type { CommandForm } from '#core/command/form';
import { slashed } from '#core/command/out-file';
import { Refusal } from '#core/refusal';
import type { DetachChoices } from './choices';

/** `detach DIR --source FILE [--files FILE...]`; or `detach FILE`, which came out of one source. */
export const DETACH_FORM: CommandForm<DetachChoices, null> = {
  argument: '<DIR|FILE>',
  takesFile: true,
  choices(_, { project }, root, __, argument) {
    const file = slashed(path.relative(root, path.resolve(argument)));
    if (file === '') return {};
    const sources = (project.uses.get(file) ?? []).flatMap(({ source, to }) => (source && to ? [to] : []));
    const [one, ...more] = new Set(sources);
    if (one === undefined) throw new Refusal(`${file} came out of no other file that is here.`);
    if (more.length > 0)
      throw new Refusal(`${file} came out of several files: name one by --source, in its folder.`);
    return { source: one, files: [file] };
  },
};
