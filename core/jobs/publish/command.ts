import path from 'node:path';
import type { CommandForm } from '#core/command/form';
import { writeWhole } from '#core/command/out-file';
import { mountingFaces } from '#core/project/change/published-facts';
import type { PublishChoices } from './choices';
import type { OfferOutline } from './offer';

/** `publish FILE --out DIR`: what the catalogue would offer, as files of a folder: the formats, and the picture. */
export const PUBLISH_FORM: CommandForm<PublishChoices, OfferOutline> = {
  flags: [{ flag: '--out <DIR>', words: 'folder for the files that are offered', isRequired: true }],
  async tell({ offers, preview: { title, facts }, dryRun }, { out }) {
    const made = dryRun ? null : await offers![0]!.write();
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
        ...mountingFaces(facts).map(({ name, size }) => `mounted by  ${size ? `${name}: ${size}` : name}`),
        `${title}: ${facts.sides.join(' x ')} mm, ${facts.faces.toLocaleString('en')} faces.`,
      ],
    };
  },
};
