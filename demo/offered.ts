import { readFile } from 'node:fs/promises';
import path from 'node:path';
import type { Offer, OfferedFiles } from '#core/planned';

/** What the demo's catalogue offers, of the project that holds what is given out. */
export const OFFERED = [
  {
    folder: 'azimuth-drive',
    file: 'given-out/azimuth-drive-lite.stp',
    title: 'Azimuth drive AD-12',
    partNumber: 'HX-12-AD-12',
  },
  {
    folder: 'actuator',
    file: 'given-out/actuator-la-300-sealed.stp',
    title: 'Linear actuator, 300 mm stroke',
    partNumber: 'LA-300-24V',
  },
] as const;

/** On what terms. */
export const CONDITIONS =
  'For planning and for mounting drawings. The model is lighter than the product: its outside and its mounting faces are exact, its inside is closed. Ask before you make anything after it.';

/** What is kept of an offer beside its picture, its meshes, and the STEP file itself. */
export interface StoredOffer extends Pick<Offer, 'madeFrom' | 'choices'> {
  facts: OfferedFiles['facts'];
  files: { format: string; name: string }[];
}

/** An offer as `demo/offer.ts` made it. @param step the file that is offered */
export async function readOffer(
  folder: string,
  step: { name: string; content: Uint8Array },
): Promise<OfferedFiles & Pick<Offer, 'madeFrom' | 'choices'>> {
  const read = (name: string) => readFile(path.join(import.meta.dirname, 'files/offered', folder, name));
  const { facts, files, madeFrom, choices } = JSON.parse(
    await read('offer.json').then(String),
  ) as StoredOffer;
  const meshes = await Promise.all(files.map(async (file) => ({ ...file, content: await read(file.name) })));
  return {
    facts,
    madeFrom,
    choices,
    picture: await read('picture.png'),
    files: [{ format: 'step', ...step }, ...meshes],
  };
}
