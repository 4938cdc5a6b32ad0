import { plural } from '#core/command/words';
import { baseName } from '#core/files/links/paths';
import { Part21File } from '#core/files/part21/file';
import type { Planned } from '#core/planned';
import type { Planning } from '#core/planning';
import { freeDesignation, isCalled } from '#core/product/called';
import { type BodyToPart, withComponents } from '#core/product/restructure/make-components';
import { type Product, readStructure } from '#core/product/structure';
import { hasStructure } from '#core/project/formats/endings';
import { changeableScan } from '#core/project/scan/changeable';
import { Refusal } from '#core/refusal';
import { productsWithLooseBodies } from './loose-bodies';
import type { MadeComponent, MakeComponentsChoices } from './operation';

/** @throws Refusal where there is no such body, or none that is loose */
export async function planMakeComponents(
  { project, draft }: Planning,
  choices: MakeComponentsChoices,
): Promise<Planned<{ components: MadeComponent[] }>> {
  const { file } = choices;
  const scan = changeableScan(project, file);
  if (!hasStructure(file)) throw new Refusal(`${file} cannot hold components: only STEP can.`);
  const chosen = chosenBodies(productsWithLooseBodies(scan), choices);
  const ids = new Set(scan.products.map(({ id }) => id));
  const components: MadeComponent[] = [];
  const wanted = new Map<number, BodyToPart[]>();
  for (const { product, bodies } of chosen)
    wanted.set(
      product.definition,
      bodies.map((body, n) => {
        const name = choices.names[String(body.id)]?.trim() || body.name || `${product.name} ${n + 1}`;
        const id = freeDesignation(name, ids);
        ids.add(id);
        components.push({ body: body.id, id, name, parent: product.name });
        return { body, id, name };
      }),
    );
  await draft.edit(file, (before) => {
    let bytes = before;
    for (const [definition, bodies] of wanted) {
      const text = Part21File.read(bytes);
      const { products } = readStructure(text);
      const product = products.find((one) => one.definition === definition)!;
      bytes = withComponents(text, products, product, bodies);
    }
    return bytes;
  });
  const materials = chosen.filter(({ product }) => product.material !== undefined);
  for (const { product } of materials)
    draft.warn(
      `${product.name} stays of ${product.material}; its new components say nothing of their material yet.`,
    );
  const [only] = components;
  const what =
    components.length === 1
      ? `a component of ${only!.name}`
      : `${plural(components.length, 'component')} of bodies`;
  return { change: await draft.finish(`Made ${what} in ${baseName(file)}`), preview: { components } };
}

function chosenBodies(
  products: readonly Product[],
  { file, product: wanted, bodies }: MakeComponentsChoices,
): { product: Product; bodies: Product['bodies'] }[] {
  const named = wanted === null ? products : products.filter((product) => isCalled(product, wanted));
  if (named.length === 0)
    throw new Refusal(
      wanted === null
        ? `No bodies lie loose in ${file}: each part has one, and no assembly has any.`
        : `${wanted} in ${file} has no bodies that could be components.`,
    );
  const asked = bodies && new Set(bodies);
  const found = named.flatMap((product) => {
    const own = asked ? product.bodies.filter(({ id }) => asked.delete(id)) : product.bodies;
    return own.length === 0 ? [] : [{ product, bodies: own }];
  });
  const [missing] = asked ?? [];
  if (missing !== undefined) throw new Refusal(`${file} has no loose body #${missing}.`);
  if (found.length === 0) throw new Refusal('Choose the bodies that become components.');
  return found;
}
