import { baseName } from '#core/files/links/paths';
import { applyTo } from '#core/jobs/arrange/apply';
import { Levels } from '#core/jobs/arrange/levels';
import { link, newComponent } from '#core/jobs/place/component';
import { measuredPart, motionBetween } from '#core/jobs/place/part-figures';
import { append } from '#core/multimap';
import type { PlanContext } from '#core/planning';
import { multiply } from '#core/product/matrix';
import type { Product } from '#core/product/structure';
import { ownProducts } from '#core/project/scan/content';
import { fold, isGeneric } from '#core/project/scan/designations';
import { type Project, placedAbove, standsForOther } from '#core/project/scan/project';

/** Another file that carries a part of the same number as one that is put out. */
export interface Carrier {
  file: string;
  definition: number;
}

/** Parts that lie in assembly files and are placed there, by their numbers; numbers that say nothing are left out. */
export class Carriers {
  private readonly byId = new Map<string, (Carrier & { product: Product })[]>();

  /** Linear in the products of the project. */
  constructor(project: Project) {
    for (const [path, { scan }] of project.files) {
      if (scan.error !== null || scan.damage !== null || standsForOther(project, path)) continue;
      const own = ownProducts(scan);
      const placed = new Set(own.flatMap(({ occurrences }) => occurrences.map(({ child }) => child)));
      for (const product of own) {
        const key = fold(product.id);
        if (key === '' || isGeneric(key) || product.isEmpty || !placed.has(product.definition)) continue;
        append(this.byId, key, { file: path, definition: product.definition, product });
      }
    }
  }

  /** Those of a part besides the file that it is put out of. */
  of(file: string, id: string): (Carrier & { product: Product })[] {
    return (this.byId.get(fold(id)) ?? []).filter((carrier) => carrier.file !== file);
  }
}

/** A part that became a file. */
export interface Led {
  /** The assembly file that it lay in, and what it was there. */
  file: string;
  product: Product;
  /** Where it lies now. */
  path: string;
}

/**
 * Lets another file place the new one instead of the part of the same number that it carries: wherever that stands, turned and shifted
 * where the same shape lies otherwise in it.
 * @returns why it stays as it is; null where it is done
 */
export async function leadCarrier(
  context: PlanContext,
  { file, product, path }: Led,
  carrier: Carrier & { product: Product },
): Promise<string | null> {
  const { project, draft } = context;
  const above = placedAbove(project, carrier.file);
  const below = belowIn(project.files.get(file)!.scan.products, product);
  const leadsBack = (project.uses.get(file) ?? []).some(
    ({ kind, to, definitions }) =>
      kind === 'component' && to !== null && above.has(to) && definitions.some((one) => below.has(one)),
  );
  if (leadsBack) return 'the files would place each other in a loop';
  const [anew, old] = [
    await measuredPart(context, { path: file, product }),
    await measuredPart(context, { path: carrier.file, product: carrier.product }),
  ];
  if (!anew || !old) return 'one of them is not measured yet';
  const motion = motionBetween(anew, old);
  if (!motion) return 'it has another shape there';
  const { of: heldBy } = new Levels(project.files.get(carrier.file)!.scan.products);
  const places = heldBy.get(carrier.definition) ?? [];
  const parent = places[0]!.parent;
  const component = newComponent({ file: carrier.file, part: path, parent }, product);
  const replaced = new Map(
    places.map(({ occurrence: { id, placement } }) => [
      id,
      { by: component.of, placement: multiply(placement, motion) },
    ]),
  );
  await applyTo(context, carrier.file, { standIns: component.standIns, replaced }, true);
  link(draft, carrier.file, component);
  draft.warn(`${baseName(carrier.file)} places ${baseName(path)} instead of a part of its own.`);
  return null;
}

/** PRODUCT_DEFINITIONs of all that a product comes to in its file, with its own. */
function belowIn(products: readonly Product[], product: Product): Set<number> {
  const byDefinition = new Map(products.map((one) => [one.definition, one]));
  const found = new Set([product.definition]);
  for (const one of found) for (const { child } of byDefinition.get(one)?.occurrences ?? []) found.add(child);
  return found;
}
