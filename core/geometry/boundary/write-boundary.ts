import { builderAfter, instancesEdit, listEdit } from '#core/files/part21/extend';
import type { Part21File } from '#core/files/part21/file';
import { DERIVED, Enumeration, Real, Reference, referencesOf } from '#core/files/part21/parameters';
import { type Edit, splice } from '#core/files/part21/splice';
import type { Part21Builder } from '#core/files/part21/write';
import type { Boundary, BoundaryLoop, Edge, Vertex } from './boundary';
import { addEdgeCurve } from './edge-curves';

/**
 * Writes what has changed in the boundary of a solid into its file: faces leave their shells, changed faces get bounds of new edges. Surfaces, and
 * everything else, stay to the last digit.
 */
export function writeBoundary(file: Part21File, boundary: Boundary): Uint8Array {
  const builder = builderAfter(file);
  const edits: Edit[] = [];
  const writer = new EdgeWriter(builder, boundary.millimetres);

  // 1. Faces that have gone.
  const gone = new Map<number, Set<number>>();
  for (const { shell, written } of boundary.gone)
    gone.set(shell, (gone.get(shell) ?? new Set()).add(written));
  for (const [shell, faces] of gone) {
    const left = referencesOf(file.parameters(shell)?.[1]).filter((id) => !faces.has(id));
    edits.push(listEdit(file, shell, 1, left));
  }

  // 2. Faces with other bounds.
  for (const { written, loops } of boundary.faces) {
    const before = referencesOf(file.parameters(written)?.[1]);
    const isSame = loops.length === before.length && loops.every((loop, n) => loop.written === before[n]);
    if (isSame) continue;
    const bounds = loops.map((loop) => loop.written ?? addBound(builder, writer, loop).id);
    edits.push(listEdit(file, written, 1, bounds));
  }
  edits.push(...instancesEdit(file, builder));
  return splice(
    file.bytes,
    edits.sort((a, b) => a.start - b.start),
  );
}

function addBound(builder: Part21Builder, writer: EdgeWriter, { uses, isInner }: BoundaryLoop): Reference {
  const oriented = uses.map(({ edge, isForward }) =>
    builder.add('ORIENTED_EDGE', '', DERIVED, DERIVED, writer.edge(edge), truth(isForward)),
  );
  const loop = builder.add('EDGE_LOOP', '', oriented);
  return builder.add(isInner ? 'FACE_BOUND' : 'FACE_OUTER_BOUND', '', loop, truth(true));
}

const truth = (is: boolean) => new Enumeration(is ? 'T' : 'F');

/** Edges, vertices and curves, each written once. */
class EdgeWriter {
  private readonly edges = new Map<Edge, Reference>();
  private readonly vertices = new Map<Vertex, Reference>();
  private readonly curves = new Map<Edge['curve'], Reference>();

  constructor(
    private readonly builder: Part21Builder,
    private readonly millimetres: number,
  ) {}

  edge(edge: Edge): Reference {
    return once(this.edges, edge, () => {
      const [from, to] = [this.vertex(edge.from), this.vertex(edge.to)];
      return this.builder.add('EDGE_CURVE', '', from, to, this.curve(edge.curve), truth(edge.isSame));
    });
  }

  private curve(curve: Edge['curve']): Reference {
    return once(this.curves, curve, () => addEdgeCurve(this.builder, curve, this.millimetres));
  }

  private vertex(vertex: Vertex): Reference {
    return once(this.vertices, vertex, () => {
      const reals = vertex.point.map((value) => new Real(value / this.millimetres));
      return this.builder.add('VERTEX_POINT', '', this.builder.add('CARTESIAN_POINT', '', reals));
    });
  }
}

/** The reference to something that stands in the file; what does not is made once. */
function once<Thing extends { written?: number }>(
  known: Map<Thing, Reference>,
  thing: Thing,
  make: () => Reference,
): Reference {
  if (thing.written !== undefined) return new Reference(thing.written);
  const made = known.get(thing) ?? make();
  known.set(thing, made);
  return made;
}
