import { z } from 'zod';
import { baseName } from '#core/files/links/paths';
import { MOST_CHOSEN } from '#core/misfit';
import { append } from '#core/multimap';
import { operation } from '#core/operation';
import type { Planning } from '#core/planning';
import { densityOf } from '#core/product/materials';
import type { Product } from '#core/product/structure';
import { withMaterial } from '#core/product/write-material';
import { ownProducts } from '#core/project/scan/content';
import type { Project } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';

export const MaterialChoices = z.object({
  parts: z
    .array(
      z.object({
        file: z.string().min(1).max(4000).describe('the file that the part is in'),
        product: z
          .string()
          .max(1000)
          .nullable()
          .default(null)
          .describe('the part by its id or name; all parts of the file with bodies unless it is said'),
      }),
    )
    .min(1)
    .max(MOST_CHOSEN)
    .describe('the parts that are made of it'),
  material: z.string().trim().max(200).describe('name of the material; empty for none'),
  density: z
    .number()
    .positive()
    .max(100_000)
    .nullable()
    .default(null)
    .describe('density in kg/m³; that of the list unless it is said'),
});
export type MaterialChoices = z.infer<typeof MaterialChoices>;

/** A part that gets another material. */
export interface GivenMaterial {
  file: string;
  name: string;
  before: string | null;
}

/** Writes what parts are made of into their files. */
export const MATERIAL = operation<MaterialChoices, { parts: GivenMaterial[] }, unknown, Planning>({
  name: 'material',
  title: 'Set the material',
  purpose: 'Write the material of parts, with its density, into their files.',
  place: 'structure',
  page: 'bill-of-materials',
  role: 'editor',
  accepts: { what: 'project', isUnlisted: true },
  choices: MaterialChoices,
  cost: 'quick',
  async plan({ project, draft }, { parts, material: name, density }) {
    const byFile = new Map<string, Product[]>();
    for (const { file, product } of parts)
      for (const one of productsOf(project, file, product))
        if (!byFile.get(file)?.includes(one)) append(byFile, file, one);
    const material = name === '' ? null : { name, density: density ?? densityOf(name) };
    const given: GivenMaterial[] = [];
    for (const [file, products] of byFile) {
      const others = products.filter(
        (one) =>
          (one.material ?? null) !== (material?.name ?? null) ||
          (one.density ?? null) !== (material?.density ?? null),
      );
      if (others.length === 0) continue;
      const definitions = others.map(({ definition }) => definition);
      await draft.edit(file, (bytes) => withMaterial(bytes, definitions, material));
      given.push(...others.map((one) => ({ file, name: one.name, before: one.material ?? null })));
    }
    if (material && material.density === null)
      draft.warn(`No density is known of ${name}: these parts have no mass until one is said.`);
    const what = given.length === 1 ? given[0]!.name || baseName(given[0]!.file) : `${given.length} parts`;
    const summary = material ? `Set the material of ${what} to ${name}` : `Took the material of ${what} out`;
    return { change: await draft.finish(summary), preview: { parts: given } };
  },
  form: async () => (await import('./material-command')).MATERIAL_FORM,
});

/** @throws Refusal where there is no such file or part */
function productsOf(project: Project, path: string, wanted: string | null): Product[] {
  const scan = project.files.get(path)?.scan;
  if (!scan) throw new Refusal(`There is no file ${path}.`);
  if (scan.error !== null) throw new Refusal(`${path}: ${scan.error}`);
  const own = ownProducts(scan).filter(({ definition }) => definition > 0);
  const found =
    wanted === null
      ? own.filter(({ bodies }) => bodies.length > 0)
      : own.filter(({ id, name }) => id === wanted || name === wanted);
  if (found.length > 0) return found;
  throw new Refusal(
    wanted === null
      ? `${path} has no parts with bodies: a material belongs to what is made of it.`
      : `${path} has no part ${wanted}.`,
  );
}
