import { builderAfter, instancesEdit, listEdit } from '#core/files/part21/extend';
import type { Part21File } from '#core/files/part21/file';
import { DERIVED, Enumeration, Reference, referencesOf } from '#core/files/part21/parameters';
import { type Edit, splice } from '#core/files/part21/splice';
import { type Part21Builder, writeParameter } from '#core/files/part21/write';
import type { Opening } from './openings';
import type { Closing, Topology } from './topology';

/** What is filled in one body. */
export interface BodyToFill {
  /** Number of the solid. */
  body: number;
  topology: Topology;
  openings: readonly Opening[];
}

/**
 * Fills openings of solids in their text: faces leave their shells, and bounds their faces; a solid without inner shells is a plain one
 * (ISO 10303-42, manifold_solid_brep). Every other byte stays, and so the faces that are left, to the last digit. What nothing refers to
 * any more stays in the text: whoever copies the bodies leaves it behind.
 */
export function fillText(file: Part21File, bodies: readonly BodyToFill[]): Uint8Array {
  const edits: Edit[] = [];
  const builder = builderAfter(file);
  for (const { body, topology, openings } of bodies) {
    const gone = new Set(openings.flatMap(({ faces }) => faces));
    const shells = new Map<number, Set<number>>();
    for (const n of gone) {
      const { shell, id } = topology.faces[n]!;
      shells.set(shell, (shells.get(shell) ?? new Set()).add(id));
    }
    for (const [shell, faces] of shells) {
      const left = referencesOf(file.parameters(shell)?.[1]).filter((id) => !faces.has(id));
      if (left.length > 0) edits.push(listEdit(file, shell, 1, left));
    }
    const bounds = new Map<number, Set<number>>();
    const closings: Closing[] = [];
    for (const { rims } of openings)
      for (const { face, bound } of rims) {
        if (gone.has(face)) continue;
        const { id, loops } = topology.faces[face]!;
        const closing = loops.find((loop) => loop.bound === bound)?.closing;
        if (closing) {
          closings.push(closing);
          continue;
        }
        bounds.set(id, (bounds.get(id) ?? new Set()).add(bound));
      }
    for (const [face, lost] of bounds)
      edits.push(
        listEdit(
          file,
          face,
          1,
          referencesOf(file.parameters(face)?.[1]).filter((id) => !lost.has(id)),
        ),
      );
    edits.push(...closedPaths(file, builder, closings));
    edits.push(...voidEdits(file, body, topology, shells));
  }
  edits.push(...instancesEdit(file, builder));
  return splice(
    file.bytes,
    edits.sort((a, b) => a.start - b.start),
  );
}

/** Closes outer bounds where rims that are part of them are taken out: a new edge on the curve at both ends, gone along there and back. */
function closedPaths(file: Part21File, builder: Part21Builder, closings: readonly Closing[]): Edit[] {
  const truth = (is: boolean) => new Enumeration(is ? 'T' : 'F');
  const listed = new Map<number, number[]>();
  for (const { stretches, from, to, curve, isSame } of closings) {
    const ends = [from, to].map((vertex) => new Reference(vertex)) as [Reference, Reference];
    const edge = builder.add('EDGE_CURVE', '', ...ends, new Reference(curve), truth(isSame));
    for (const [n, { path, edges }] of stretches.entries()) {
      const bridge = builder.add('ORIENTED_EDGE', '', DERIVED, DERIVED, edge, truth(n === 0));
      const [first, ...others] = edges;
      const before = listed.get(path) ?? referencesOf(file.parameters(path)?.[1]);
      listed.set(
        path,
        before.flatMap((id) => (id === first ? [bridge.id] : others.includes(id) ? [] : [id])),
      );
    }
  }
  return [...listed].map(([path, edges]) => listEdit(file, path, 1, edges));
}

/** Inner shells that have no faces left leave their solid. */
function voidEdits(
  file: Part21File,
  body: number,
  { shells, faces }: Topology,
  gone: ReadonlyMap<number, ReadonlySet<number>>,
): Edit[] {
  if (file.typeOf(body) !== 'BREP_WITH_VOIDS') return [];
  const parameters = file.parameters(body)!;
  const listed = referencesOf(parameters[2]);
  const left = listed.filter((_, n) => {
    const shell = shells[n + 1]!;
    const count = faces.filter((face) => face.shell === shell).length;
    return (gone.get(shell)?.size ?? 0) < count;
  });
  if (left.length === listed.length) return [];
  const { content, end } = file.contentOf(body)!;
  const text =
    left.length === 0
      ? `MANIFOLD_SOLID_BREP(${writeParameter(parameters[0]!)},${writeParameter(parameters[1]!)});`
      : `BREP_WITH_VOIDS(${writeParameter(parameters[0]!)},${writeParameter(parameters[1]!)},(${left.map((id) => `#${id}`).join(',')}));`;
  return [{ start: content, end, content: Buffer.from(text, 'latin1') }];
}
