import { DERIVED, Enumeration, Real, type Reference } from '#core/files/part21/parameters';
import { Part21Builder } from '#core/files/part21/write';
import type { Colour } from '#core/product/appearance';
import { addColours } from '#core/product/write-colours';
import { addGeometryContext } from '#core/product/write-geometry';

/** A box-shaped body: lengths in the part's unit. */
export interface BoxToWrite {
  name?: string;
  corner?: readonly [number, number, number];
  size?: readonly [number, number, number];
  colour?: Colour;
  /** Colours of single faces: below, above, then those across y and x, the lower one first. */
  faceColours?: { [face: number]: Colour };
}

export interface PartToWrite {
  id: string;
  name?: string;
  boxes?: BoxToWrite[];
  unit?: 'mm' | 'm' | 'in';
}

/** Writes a part of boxes as a STEP file, for tests and benchmarks: true boundary representation, few bytes. */
export function writeBoxPart({ id, name = id, boxes = [{}], unit = 'mm' }: PartToWrite): Uint8Array {
  const builder = new Part21Builder();
  const add = builder.add.bind(builder);
  const application = add('APPLICATION_CONTEXT', 'managed model based 3d engineering');
  const product = add('PRODUCT', id, name, '', [add('PRODUCT_CONTEXT', '', application, 'mechanical')]);
  const formation = add('PRODUCT_DEFINITION_FORMATION', '', '', product);
  const definition = add(
    'PRODUCT_DEFINITION',
    'design',
    '',
    formation,
    add('PRODUCT_DEFINITION_CONTEXT', 'part definition', application, 'design'),
  );
  const shape = add('PRODUCT_DEFINITION_SHAPE', '', '', definition);
  const context = addGeometryContext(builder, unit);
  const made = boxes.map((box) => addBox(builder, box));
  const bodies = made.map(({ body }) => body);
  add(
    'SHAPE_DEFINITION_REPRESENTATION',
    shape,
    add('ADVANCED_BREP_SHAPE_REPRESENTATION', name, bodies, context),
  );
  addBoxColours(builder, context, boxes, made);
  return builder.finish({
    name: `${id}.stp`,
    timeStamp: '2026-01-01T00:00:00',
    originatingSystem: 'test',
    schema: 'AP242_MANAGED_MODEL_BASED_3D_ENGINEERING_MIM_LF',
  });
}

/** Colours boxes and their faces as their descriptions say. */
export function addBoxColours(
  builder: Part21Builder,
  context: Reference,
  boxes: readonly BoxToWrite[],
  made: readonly { body: Reference; faces: Reference[] }[],
): void {
  const coloured = boxes.flatMap(({ colour, faceColours = {} }, n) => [
    ...(colour ? [{ item: made[n]!.body, colour }] : []),
    ...Object.entries(faceColours).map(([face, own]) => ({
      item: made[n]!.faces[Number(face)]!,
      colour: own,
    })),
  ]);
  if (coloured.length > 0) addColours(builder, context, coloured);
}

type Triple = [number, number, number];

/** Adds one box as a solid. */
export function addBox(
  builder: Part21Builder,
  { name = '', corner = [0, 0, 0], size = [10, 10, 10] }: BoxToWrite,
): { body: Reference; faces: Reference[] } {
  const add = builder.add.bind(builder);
  const real = (values: readonly number[]) => values.map((value) => new Real(value));
  const point = (at: Triple) => add('CARTESIAN_POINT', '', real(at));
  const direction = (towards: Triple) => add('DIRECTION', '', real(towards));
  const at = (n: number): Triple => [
    corner[0] + (n & 1) * size[0],
    corner[1] + ((n >> 1) & 1) * size[1],
    corner[2] + ((n >> 2) & 1) * size[2],
  ];
  const vertices = [0, 1, 2, 3, 4, 5, 6, 7].map((n) => add('VERTEX_POINT', '', point(at(n))));

  // Edges between corners that differ in one bit, each from the lower to the higher number.
  const edges = new Map<string, Reference>();
  for (let from = 0; from < 8; from++) {
    for (let axis = 0; axis < 3; axis++) {
      const to = from | (1 << axis);
      if (to === from) continue;
      const along: Triple = [0, 0, 0];
      along[axis] = 1;
      const line = add('LINE', '', point(at(from)), add('VECTOR', '', direction(along), new Real(1)));
      edges.set(
        `${from}-${to}`,
        add('EDGE_CURVE', '', vertices[from]!, vertices[to]!, line, new Enumeration('T')),
      );
    }
  }

  // Faces: corners in turning order, seen from outside.
  const faces = (
    [
      [
        [0, 2, 3, 1],
        [0, 0, -1],
      ],
      [
        [4, 5, 7, 6],
        [0, 0, 1],
      ],
      [
        [0, 1, 5, 4],
        [0, -1, 0],
      ],
      [
        [2, 6, 7, 3],
        [0, 1, 0],
      ],
      [
        [0, 4, 6, 2],
        [-1, 0, 0],
      ],
      [
        [1, 3, 7, 5],
        [1, 0, 0],
      ],
    ] as [number[], Triple][]
  ).map(([corners, normal]) => {
    const loop = corners.map((from, n) => {
      const to = corners[(n + 1) % 4]!;
      const forward = from < to;
      const edge = edges.get(forward ? `${from}-${to}` : `${to}-${from}`)!;
      return builder.addComplex({
        keyword: 'ORIENTED_EDGE',
        parameters: ['', DERIVED, DERIVED, edge, new Enumeration(forward ? 'T' : 'F')],
      });
    });
    const bound = add('FACE_OUTER_BOUND', '', add('EDGE_LOOP', '', loop), new Enumeration('T'));
    const across: Triple = normal[0] === 0 ? [1, 0, 0] : [0, 1, 0];
    const plane = add(
      'PLANE',
      '',
      add('AXIS2_PLACEMENT_3D', '', point(at(corners[0]!)), direction(normal), direction(across)),
    );
    return add('ADVANCED_FACE', '', [bound], plane, new Enumeration('T'));
  });
  return { body: add('MANIFOLD_SOLID_BREP', name, add('CLOSED_SHELL', '', faces)), faces };
}
