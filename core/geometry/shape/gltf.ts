import { Document, NodeIO, Primitive } from '@gltf-transform/core';
import { EXTMeshoptCompression } from '@gltf-transform/extensions';
import { MeshoptDecoder, MeshoptEncoder } from 'meshoptimizer';
import type { BodyMesh } from './body';
import { coarserLevels } from './levels';

/** A body to draw, by its number; one without a mesh is left out. */
export interface BodyToPack {
  body: number;
  mesh?: BodyMesh | null;
}

/**
 * Packs meshes as binary glTF 2.0 with EXT_meshopt_compression, losslessly. One node a body, named by the body's
 * number; primitive 0 is its faces, primitive 1 its edges. Lengths are in millimetres (glTF's metre is not kept to:
 * the file is for the stage, not for export). `extras.faceGroups` gives first index and count of each face. What comes after are
 * coarser levels of the faces over the same vertices; `extras.error` of each says how far it may lie off, mm.
 */
export async function packGltf(shapes: readonly BodyToPack[]): Promise<Uint8Array> {
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene();
  for (const shape of shapes) {
    if (!shape.mesh || shape.mesh.triangles.length === 0) continue;
    const { positions, normals, triangles, edges, faceGroups } = shape.mesh;
    const accessor = (type: 'VEC3' | 'SCALAR', array: Float32Array | Uint32Array) =>
      document
        .createAccessor()
        .setType(type)
        .setArray(array as Float32Array<ArrayBuffer>)
        .setBuffer(buffer);
    const [place, normal] = [accessor('VEC3', positions), accessor('VEC3', normals)];
    const facesOf = (indices: Uint32Array) =>
      document
        .createPrimitive()
        .setAttribute('POSITION', place)
        .setAttribute('NORMAL', normal)
        .setIndices(accessor('SCALAR', indices));
    const mesh = document
      .createMesh(String(shape.body))
      .addPrimitive(facesOf(triangles))
      .setExtras({ faceGroups: [...faceGroups] });
    if (edges.length > 0)
      mesh.addPrimitive(
        document
          .createPrimitive()
          .setMode(Primitive.Mode.LINES!)
          .setAttribute('POSITION', accessor('VEC3', edges)),
      );
    for (const level of await coarserLevels(shape.mesh))
      mesh.addPrimitive(facesOf(level.triangles).setExtras({ error: level.error }));
    scene.addChild(document.createNode(String(shape.body)).setMesh(mesh));
  }
  document
    .createExtension(EXTMeshoptCompression)
    .setRequired(true)
    .setEncoderOptions({ method: EXTMeshoptCompression.EncoderMethod.QUANTIZE });
  return (await inputOutput()).writeBinary(document);
}

/** The faces of a body, read back: the whole mesh and its coarser levels over the same vertices. */
export interface GeometryOfBody {
  positions: Float32Array;
  /** For each face of the body in turn: its first index into the triangles of the whole mesh, and how many. */
  faceGroups: Uint32Array;
  levels: { triangles: Uint32Array; error: number }[];
  /** Smallest and largest x, y, z, mm. */
  box: number[];
}

/** Reads what `packGltf` wrote, by the number of the body. */
export async function unpackGltf(gltf: Uint8Array): Promise<Map<number, GeometryOfBody>> {
  const document = await (await inputOutput()).readBinary(gltf);
  const bodies = new Map<number, GeometryOfBody>();
  for (const node of document.getRoot().listNodes()) {
    const faces = (node.getMesh()?.listPrimitives() ?? []).filter(
      (primitive) => primitive.getMode() === Primitive.Mode.TRIANGLES,
    );
    const places = faces[0]?.getAttribute('POSITION');
    if (!places) continue;
    bodies.set(Number(node.getName()), {
      positions: places.getArray() as Float32Array,
      faceGroups: Uint32Array.from((node.getMesh()!.getExtras().faceGroups ?? []) as number[]),
      levels: faces.map((primitive) => ({
        triangles: primitive.getIndices()!.getArray() as Uint32Array,
        error: Number(primitive.getExtras().error ?? 0),
      })),
      box: [...places.getMin([]), ...places.getMax([])],
    });
  }
  return bodies;
}

async function inputOutput(): Promise<NodeIO> {
  await MeshoptEncoder.ready;
  await MeshoptDecoder.ready;
  return new NodeIO()
    .registerExtensions([EXTMeshoptCompression])
    .registerDependencies({ 'meshopt.encoder': MeshoptEncoder, 'meshopt.decoder': MeshoptDecoder });
}
