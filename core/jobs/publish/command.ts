import path from 'node:path';
import type { CommandForm } from '#core/command/form';
import { writeWhole } from '#core/command/out-file';
import type { PublishChoices } from './choices';
import type { PublishOutline } from './plan';

/** `publish FILE --out DIR`: what the catalogue would offer, as files of a folder: every format, and the picture. */
export const PUBLISH_FORM: CommandForm<PublishChoices, PublishOutline> = {
  flags: [{ flag: '--out <DIR>', words: 'folder for the files that are offered', isRequired: true }],
  async tell({ offer, preview: { title, facts }, dryRun }, { out }) {
    const made = dryRun ? null : await offer!.write();
    const written = made
      ? [
          ...made.files.map(({ name, content }) => ({ name, content })),
          { name: 'picture.png', content: made.picture },
        ]
      : [];
    for (const { name, content } of written) await writeWhole(path.resolve(out, name), content);
    const names = written.map(({ name }) => name);
    return {
      json: { title, facts, written: names },
      lines: [
        ...names.map((name) => `wrote  ${path.join(out, name)}`),
        `${title}: ${facts.sides.join(' x ')} mm, ${facts.faces.toLocaleString('en')} faces.`,
      ],
    };
  },
};
