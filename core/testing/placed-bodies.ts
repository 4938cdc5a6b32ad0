import type { Project } from '#core/project/scan/project';
import { structureTable } from '#core/project/scan/structure-table';

/** Every placed body: what it is called, its colour, what it is made of, and where it stands. */
export function bodiesIn(project: Project, root = 'unit/top.stp'): string[] {
  const { bodies, instances, nodes } = structureTable(project, root, false);
  return instances
    .map(({ body, row, placement }) => {
      const { product } = nodes[row]!.place;
      const { colour, body: id } = bodies[body]!;
      const name = product.bodies.find((one) => one.id === id)?.name;
      const where = placement.map((value) => (Math.abs(value) < 1e-9 ? 0 : Number(value.toFixed(9))));
      return [product.name, name, colour, product.material, where.join(' ')].join(' | ');
    })
    .sort();
}
