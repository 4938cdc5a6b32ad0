import { bodiesLeft } from '#core/geometry/reduce/decide';
import { FilledSpace } from '#core/geometry/reduce/filled-space';
import type { ReducedWhole } from '#core/geometry/reduce/reduced-whole';
import { finestMesh } from '#core/geometry/shape/solid-mesh';
import { type StandingSolid, sunkSolids } from '#core/geometry/solids/sunk';
import { meshOfBody } from '#core/geometry/whole/whole';

/**
 * Openings that were filled although something of another group stands in them: a shaft in its bore. They have to stay open.
 * @returns keys of openings, by `openingKey`
 */
export async function metOpenings(own: ReducedWhole, others: readonly ReducedWhole[]): Promise<Set<string>> {
  const plugs = await new FilledSpace(own).plugs();
  const guests = others.flatMap(({ whole, decision }) =>
    bodiesLeft(decision).flatMap((n): StandingSolid[] => {
      const mesh = meshOfBody(whole, n);
      return mesh ? [{ mesh: finestMesh(mesh), placement: whole.bodies[n]!.placement }] : [];
    }),
  );
  const isPlug = (n: number) => n < plugs.length;
  const sunk = await sunkSolids([...plugs, ...guests], (host, guest) => isPlug(host) && !isPlug(guest));
  return new Set([...sunk.values()].flatMap(({ hosts }) => hosts.map((host) => plugs[host]!.opening)));
}
