import { baseName, folderOf, freePath, joinPath } from '#core/files/links/paths';
import { Part21File } from '#core/files/part21/file';
import { type Planning, timeStampOf } from '#core/planning';
import { Anchors } from '#core/product/restructure/belonging';
import { type PutOut, putOutSeveral } from '#core/product/restructure/put-out';
import { type Product, readStructure } from '#core/product/structure';

/** A component, and where its file shall lie if that is free. */
export interface NewFile {
  definition: number;
  path: string;
}

/** What came of it. */
export interface PutOnDraft extends Pick<PutOut, 'lost' | 'copied'> {
  /** The products that the assembly had before. */
  products: readonly Product[];
  /** Where the files lie, by PRODUCT_DEFINITION. */
  paths: ReadonlyMap<number, string>;
}

/** Makes components that lie in an assembly file, none of which is part of another, files of their own, on the draft. */
export async function putOutOntoDraft(
  { draft, now }: Pick<Planning, 'draft' | 'now'>,
  file: string,
  wanted: readonly NewFile[],
): Promise<PutOnDraft> {
  // 1. Each lies beside the assembly first: what it leads to is written as seen from there, and follows when it moves.
  const files = new Map<number, Uint8Array>();
  const promised = new Set<string>();
  const places = wanted.map(({ definition, path }) => {
    const to = freePath(path, (one) => draft.isTaken(one) || promised.has(one));
    promised.add(to);
    const beside = draft.free(joinPath(folderOf(file), baseName(to)));
    draft.write(beside, () => files.get(definition)!);
    return { definition, to, beside };
  });

  // 2. The text of the assembly once, for all of them.
  let made: Pick<PutOnDraft, 'products' | 'lost' | 'copied'> | undefined;
  await draft.edit(file, (bytes) => {
    const before = Part21File.read(bytes);
    const { products } = readStructure(before);
    if (before.header.writtenSchemas.some((schema) => /^CONFIG_CONTROL_DESIGN/i.test(schema)))
      draft.warn(
        `${baseName(file)} is written by the first edition of AP203, which knows no references to files: most systems follow them all the same, a strict reader may not.`,
      );
    const put = putOutSeveral(
      new Anchors(before, products),
      places.map(({ definition, to, beside }) => ({
        definition,
        fileName: baseName(to),
        timeStamp: timeStampOf(now),
        written: baseName(beside),
      })),
    );
    for (const [definition, content] of put.files) files.set(definition, content);
    made = { products, lost: put.lost, copied: put.copied };
    return put.assembly;
  });

  // 3. Where they shall lie.
  for (const { beside } of places)
    draft.linked({ holder: file, kind: 'component', written: baseName(beside) }, beside);
  for (const { beside, to } of places) await draft.move(beside, to);
  return { ...made!, paths: new Map(places.map(({ definition, to }) => [definition, to])) };
}
