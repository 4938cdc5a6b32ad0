import { MOST_PLACED, placedBodies, placedBodyCounts } from '#core/geometry/bodies/placed-bodies';
import type { SceneData } from '#core/geometry/scene';
import { IDENTITY } from '#core/product/matrix';
import type { Body } from '#core/product/structure';
import { ownProducts } from '#core/project/scan/content';
import type { Project, ScannedFile } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import type { ShapeState } from '#server/jobs/shapes';
import { Pictures } from '#server/views/structure/scene';

/** A body of the part that is to be split. */
export interface SplitBody {
  id: number;
  name: string;
  kind: 'solid' | 'surface';
  colour: string | null;
  /** mm³; null while the kernel has not measured it. */
  volume: number | null;
  /** Sides of the box, mm, the longest first. */
  size: [number, number, number] | null;
  faces: number | null;
  error: string | null;
  /** Why its figures are not to be trusted. */
  doubt: string | null;
}

/** A product of the file that can be split by itself. */
export interface SplitProduct {
  /** Its id, or its name where it has none. */
  key: string;
  name: string;
  bodies: number;
}

export interface SplitView {
  path: string | null;
  /** The product that is split, with all below it; null for everything in the file. */
  product: string | null;
  /** Products to choose from; none for a plain part. */
  products: SplitProduct[];
  sha256: string;
  /** Files with more than one body of their own. */
  parts: { path: string; bodies: number }[];
  bodies: SplitBody[];
  /** Whether the kernel is through with the part. */
  ready: 'ready' | 'preparing' | 'failed';
  scene: SceneData;
}

export function splitView(
  project: Project,
  shapes: ReadonlyMap<string, ShapeState>,
  projectId: string,
  wanted: string | null,
  wantedProduct: string | null = null,
): SplitView {
  const parts = [...project.files.values()]
    .map(({ path, scan }) => ({
      path,
      bodies: ownProducts(scan).reduce((sum, { bodies }) => sum + bodies.length, 0),
    }))
    .filter(({ bodies }) => bodies > 1)
    .sort((a, b) => b.bodies - a.bodies);
  const path = wanted !== null && project.files.has(wanted) ? wanted : (parts[0]?.path ?? null);
  const file = path === null ? undefined : project.files.get(path);
  const products = file ? productsToSplit(file) : [];
  const product = products.some(({ key }) => key === wantedProduct) ? wantedProduct : null;
  if (path === null || !file)
    return {
      path,
      product,
      products,
      sha256: '',
      parts,
      bodies: [],
      ready: 'ready',
      scene: { bodies: [], instances: [] },
    };
  const state = shapes.get(file.sha256);
  const facts = new Map(state?.bodies?.map((body) => [body.body, body]));
  const own = bodiesToSplit(file, product);
  const pictures = new Pictures(project, shapes, projectId);
  return {
    path,
    product,
    products,
    sha256: file.sha256,
    parts,
    bodies: own.map(({ id, name, kind, colour }) => {
      const known = facts.get(id);
      const box = known?.facts?.box;
      return {
        id,
        name,
        kind,
        colour,
        volume: known?.facts?.volume ?? null,
        size: box
          ? ([box[3] - box[0], box[4] - box[1], box[5] - box[2]].sort((a, b) => b - a) as [
              number,
              number,
              number,
            ])
          : null,
        faces: known?.facts?.faces ?? null,
        error: known?.error ?? null,
        doubt: known?.facts?.doubt ?? null,
      };
    }),
    ready:
      !state || state.state === 'waiting' || state.state === 'running'
        ? 'preparing'
        : state.state === 'done'
          ? 'ready'
          : 'failed',
    scene: {
      bodies: own.map((body) => pictures.of(file.sha256, body.id, body)),
      instances: own.map(({ name, id, placement }, n) => ({
        row: n,
        body: n,
        placement: placement ?? IDENTITY,
        name: name || `Body #${id}`,
      })),
    },
  };
}

/** The bodies as the split finds them, in its order; none for a file that cannot be split. */
function bodiesToSplit({ path, scan }: ScannedFile, product: string | null): Body[] {
  try {
    return placedBodies(path, scan.products, product).bodies;
  } catch (error) {
    if (error instanceof Refusal) return [];
    throw error;
  }
}

/** Where one file puts several products together: those with bodies below them. */
function productsToSplit(file: ScannedFile): SplitProduct[] {
  const products = ownProducts(file.scan);
  if (products.length < 2) return [];
  const counts = placedBodyCounts(file.scan.products);
  const times = new Map<string, number>();
  for (const { id, name } of products) times.set(id || name, (times.get(id || name) ?? 0) + 1);
  return products.flatMap(({ definition, id, name }) => {
    const bodies = counts.get(definition) ?? 0;
    if (bodies === 0 || bodies > MOST_PLACED) return [];
    // Kernels call all products alike: then only the number of each tells which is meant.
    const isAlone = times.get(id || name) === 1;
    return [
      {
        key: isAlone ? id || name : `#${definition}`,
        name: isAlone ? name : `${name} #${definition}`,
        bodies,
      },
    ];
  });
}
