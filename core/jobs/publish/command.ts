import path from 'node:path';
import type { CommandForm } from '#core/command/form';
import { slashed, writeWhole } from '#core/command/out-file';
import { stemOf } from '#core/files/links/paths';
import type { Offer } from '#core/planned';
import { mountingFaces } from '#core/project/change/published-facts';
import { PublishChoices, type RenewCatalogueChoices } from './choices';
import type { OfferOutline } from './offer';
import type { RenewCatalogueOutline } from './renew';

const OUT = {
  flag: '--out <DIR>',
  words: 'folder for the files that are offered',
  isRequired: true,
} as const;

/** `publish FILE --out DIR`: what the catalogue would offer, as files of a folder: the formats, and the picture. */
export const PUBLISH_FORM: CommandForm<PublishChoices, OfferOutline> = {
  flags: [OUT],
  async tell({ offers, preview, dryRun }, { out }) {
    const names = dryRun ? [] : await writeOffer(offers![0]!, out);
    const { title, facts } = preview;
    return {
      json: { title, facts, written: names },
      lines: [...names.map((name) => `wrote  ${path.join(out, name)}`), ...inLines(preview)],
    };
  },
};

/** `renew-catalogue DIR FILE... --out DIR`: files are made again where they are behind; what the catalogue would offer of each, in a folder of its own. */
export const RENEW_FORM: CommandForm<RenewCatalogueChoices, RenewCatalogueOutline> = {
  arguments: '<FILE...>',
  ownFlags: ['offers'],
  flags: [OUT],
  choices: (_, _context, _root, [files]) => ({
    offers: [files ?? []].flat().map((file) => PublishChoices.parse({ file: slashed(file) })),
  }),
  async tell({ offers = [], preview, dryRun }, { out }) {
    const written: string[] = [];
    for (const offer of dryRun ? [] : offers) {
      const folder = stemOf(offer.path);
      for (const name of await writeOffer(offer, path.join(out, folder)))
        written.push(path.join(folder, name));
    }
    const { failed } = preview;
    return {
      json: { ...preview, written },
      lines: [
        ...preview.offers.flatMap((one) => [
          ...(one.isMadeAgain ? [`${dryRun ? 'would make' : 'made'}  ${one.file} again`] : []),
          ...inLines(one),
        ]),
        ...written.map((name) => `wrote  ${path.join(out, name)}`),
        ...failed.map(({ file, why }) => `note   ${file} stays as it is. ${why}`),
      ],
      hasFindings: failed.length > 0,
    };
  },
};

/** @returns the names of what was written */
async function writeOffer(offer: Offer, folder: string): Promise<string[]> {
  const made = await offer.write();
  const files = [...made.files, { name: 'picture.png', content: made.picture }];
  for (const { name, content } of files) await writeWhole(path.resolve(folder, name), content);
  return files.map(({ name }) => name);
}

function inLines({ title, facts }: OfferOutline): string[] {
  return [
    ...mountingFaces(facts).map(({ name, size }) => `mounted by  ${size ? `${name}: ${size}` : name}`),
    `${title}: ${facts.sides.join(' x ')} mm, ${facts.faces.toLocaleString('en')} faces.`,
  ];
}
