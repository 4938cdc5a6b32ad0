import path from 'node:path';
import type { CommandForm } from '#core/command/form';
import { slashed } from '#core/command/out-file';
import { patternFlags, patternOf } from '#core/command/pattern-flags';
import { renamed } from '#core/name-pattern';
import { inFileComponents } from './components';
import type { PutOutChoices, PutOutFile } from './operation';

/** `putout FILE --component NAME...`: each by its name, its id or its number; files are named by a pattern. */
export const PUT_OUT_FORM: CommandForm<PutOutChoices, { components: PutOutFile[] }> = {
  ownFlags: ['components', 'names'],
  flags: [
    { flag: '--component <NAME...>', words: 'the components, each by its name, its id or its number' },
    ...patternFlags('names of files'),
  ],
  choices({ component = [], ...given }, { project }, root, _, argument) {
    const components = component as string[];
    const pattern = patternOf(given);
    if (!pattern) return { components };
    const scan = project.files.get(slashed(path.relative(root, path.resolve(argument))))?.scan;
    const named = (scan ? inFileComponents(scan) : []).map(
      ({ definition, name }) => [String(definition), renamed(name, pattern)] as const,
    );
    return { components, names: Object.fromEntries(named) };
  },
};
