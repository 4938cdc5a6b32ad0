import { unzipSync } from 'fflate';
import {
  BufferGeometry,
  Color,
  EdgesGeometry,
  Float32BufferAttribute,
  LoadingManager,
  Matrix4,
  type Mesh,
  type MeshStandardMaterial,
  type Object3D,
  Vector3,
} from 'three';
import { MeshoptDecoder } from 'three/addons/libs/meshopt_decoder.module.js';
import { ThreeMFLoader } from 'three/addons/loaders/3MFLoader.js';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import { OBJLoader } from 'three/addons/loaders/OBJLoader.js';
import { PLYLoader } from 'three/addons/loaders/PLYLoader.js';
import { STLLoader } from 'three/addons/loaders/STLLoader.js';
import { mergeGeometries, toCreasedNormals } from 'three/addons/utils/BufferGeometryUtils.js';
import { parseWritten, resolveSegments } from '#core/files/links/paths';
import type { MeshFile } from '#core/geometry/scene';
import type { ExactBody, ExactPoint } from '#core/geometry/shape/exact';
import { Refusal } from '#core/refusal';
import { colourOf } from './face-colours';

/** More bytes are not read in a page, packed or not. */
const MOST_MESH_BYTES = 80_000_000;
const MOST_UNPACKED = 400_000_000;
const TOO_LARGE = 'The file is too large to be shown in a page. Download it to look at it.';
/** Triangles that meet at a larger angle meet at an edge, degrees. */
const EDGE_ANGLE = 30;
/** A mesh of more triangles is drawn facet by facet, without edges. */
const MOST_TO_SMOOTH = 600_000;
/** Of more edges none can be picked: there are too many to look through while the pointer moves. */
const MOST_TO_MEASURE = 20_000;

const NAMES: { readonly [kind in MeshFile['kind']]: string } = {
  stl: 'STL',
  ply: 'PLY',
  obj: 'OBJ',
  '3mf': '3MF',
  gltf: 'glTF',
};

/** Millimetres of the units that 3MF knows (3MF core, 3.4). */
const THREE_MF_UNITS: { readonly [unit: string]: number } = {
  micron: 0.001,
  millimeter: 1,
  centimeter: 10,
  inch: 25.4,
  foot: 304.8,
  meter: 1000,
};
/** glTF has metres, and y points up (glTF 2.0, 3.4). */
const OF_GLTF = new Matrix4().set(1000, 0, 0, 0, 0, 0, -1000, 0, 0, 1000, 0, 0, 0, 0, 0, 1);

/** A file of triangles as one mesh, in mm. */
export interface ReadMesh {
  /** Vertices have the colour of the file, and normals that are smooth but at edges. */
  faces: BufferGeometry;
  edges: BufferGeometry | null;
  /** Its edges as lines, to be measured. */
  exact: ExactBody | null;
}

/**
 * Reads a file of triangles. STL, PLY and OBJ say no unit: millimetres are taken. Images on surfaces are left out.
 * @throws Refusal that says what is wrong with the file
 */
export async function readMeshFile(url: string, file: MeshFile): Promise<ReadMesh> {
  const answer = await fetch(url);
  if (!answer.ok) throw new Refusal('The file could not be fetched. Load the page again.');
  // What is too large is not fetched to its end.
  if (Number(answer.headers.get('Content-Length')) > MOST_MESH_BYTES) {
    void answer.body?.cancel();
    throw new Refusal(TOO_LARGE);
  }
  const content = await answer.arrayBuffer();
  if (content.byteLength > MOST_MESH_BYTES) throw new Refusal(TOO_LARGE);
  let model: Object3D | BufferGeometry;
  try {
    model = await parsed(content, file);
  } catch (error) {
    if (error instanceof Refusal) throw error;
    throw new Refusal(`The file cannot be read as ${NAMES[file.kind]}: ${wordsOf(error)}`);
  }
  return meshOf(model);
}

function wordsOf(error: unknown): string {
  return (error instanceof Error ? error.message : String(error)).replace(/^THREE\.\w+: /, '').slice(0, 300);
}

async function parsed(content: ArrayBuffer, { kind, folder }: MeshFile): Promise<Object3D | BufferGeometry> {
  switch (kind) {
    case 'stl':
      return new STLLoader().parse(content);
    case 'ply':
      return new PLYLoader().parse(content);
    case 'obj':
      return new OBJLoader().parse(new TextDecoder().decode(content));
    case '3mf':
      return threeMf(content);
    default:
      return gltf(content, folder);
  }
}

function threeMf(content: ArrayBuffer): Object3D {
  let unpacked = 0;
  unzipSync(new Uint8Array(content), {
    filter: ({ originalSize }) => {
      unpacked += originalSize;
      return false;
    },
  });
  if (unpacked > MOST_UNPACKED) throw new Refusal('The file unpacks to more than a page can hold.');
  const model = new ThreeMFLoader().parse(content);
  model.scale.setScalar(THREE_MF_UNITS[unitOfThreeMf(content)] ?? 1);
  return model;
}

/** The unit that the model of a 3MF file names. */
function unitOfThreeMf(content: ArrayBuffer): string {
  const files = unzipSync(new Uint8Array(content), { filter: ({ name }) => /\.model$/i.test(name) });
  const [model] = Object.values(files);
  const head = new TextDecoder().decode(model?.subarray(0, 4000));
  return /<(?:\w+:)?model\b[^>]*\bunit\s*=\s*["'](\w+)["']/.exec(head)?.[1] ?? 'millimeter';
}

async function gltf(content: ArrayBuffer, folder: string | undefined): Promise<Object3D> {
  const manager = new LoadingManager();
  manager.setURLModifier((written) => (/^(?:blob|data):/.test(written) ? written : beside(folder, written)));
  const loader = new GLTFLoader(manager).setMeshoptDecoder(MeshoptDecoder);
  loader.register(() => ({ name: 'no images', loadTexture: async () => null as never }));
  const { scene } = await loader.parseAsync(content, '');
  const model = scene.clone();
  model.applyMatrix4(OF_GLTF);
  return model;
}

/** The address of a file that a mesh names. Nothing outside of where the mesh lies is asked for. */
function beside(folder: string | undefined, written: string): string {
  if (folder === undefined) throw new Refusal(`The file needs ${written}, which did not come along.`);
  const address = new URL(folder, location.href);
  const path = resolveSegments(
    address.searchParams.get('path') ?? '',
    parseWritten(decodeURIComponent(written)).segments,
  );
  if (path === undefined) throw new Refusal(`The file needs ${written}, which lies outside of the project.`);
  address.searchParams.set('path', path);
  return address.href;
}

function meshOf(model: Object3D | BufferGeometry): ReadMesh {
  const pieces: BufferGeometry[] = [];
  if (model instanceof BufferGeometry) pieces.push(pieceOf(model, new Matrix4(), null));
  else {
    model.updateMatrixWorld(true);
    model.traverse((node) => {
      const { isMesh, geometry, material, matrixWorld } = node as Mesh;
      if (!isMesh || !geometry.hasAttribute('position')) return;
      const [first] = Array.isArray(material) ? material : [material];
      pieces.push(pieceOf(geometry, matrixWorld, (first as MeshStandardMaterial).color ?? null));
    });
  }
  const whole = pieces.length > 0 ? mergeGeometries(pieces) : null;
  const corners = whole?.getAttribute('position');
  if (!whole || !corners || corners.count < 3) throw new Refusal('There is no triangle in the file.');
  for (const value of corners.array)
    if (!Number.isFinite(value)) throw new Refusal('The file has points that are no numbers.');
  if (corners.count / 3 > MOST_TO_SMOOTH) {
    whole.computeVertexNormals();
    return { faces: whole, edges: null, exact: null };
  }
  const edges = new EdgesGeometry(whole, EDGE_ANGLE);
  const faces = toCreasedNormals(whole, (EDGE_ANGLE * Math.PI) / 180);
  return { faces, edges, exact: edgesToMeasure(edges) };
}

/** A mesh where it stands, triangle by triangle, with nothing but its places and colours. */
function pieceOf(geometry: BufferGeometry, matrix: Matrix4, material: Color | null): BufferGeometry {
  const loose = (geometry.index ? geometry.toNonIndexed() : geometry).clone().applyMatrix4(matrix);
  const piece = new BufferGeometry();
  const position = loose.getAttribute('position');
  const count = position.count - (position.count % 3);
  const places = new Float32Array(3 * count);
  const colours = new Float32Array(3 * count);
  const given = loose.getAttribute('color');
  const plain = isWhite(material) ? colourOf(null) : material!;
  const [corner, colour] = [new Vector3(), new Color()];
  for (let n = 0; n < count; n++) {
    corner.fromBufferAttribute(position, n).toArray(places, 3 * n);
    (given ? colour.fromBufferAttribute(given, n) : plain).toArray(colours, 3 * n);
  }
  piece.setAttribute('position', new Float32BufferAttribute(places, 3));
  piece.setAttribute('color', new Float32BufferAttribute(colours, 3));
  return piece;
}

/** White is what readers give to what says nothing. */
function isWhite(colour: Color | null): boolean {
  return !colour || (colour.r > 0.999 && colour.g > 0.999 && colour.b > 0.999);
}

function edgesToMeasure(edges: BufferGeometry): ExactBody | null {
  const { array, count } = edges.getAttribute('position');
  if (count / 2 > MOST_TO_MEASURE) return null;
  const point = (n: number): ExactPoint => [array[3 * n]!, array[3 * n + 1]!, array[3 * n + 2]!];
  const lines = Array.from({ length: count / 2 }, (_, n) => {
    const [from, to] = [point(2 * n), point(2 * n + 1)];
    return {
      kind: 'line' as const,
      length: Math.hypot(...from.map((value, axis) => to[axis]! - value)),
      from,
      to,
    };
  });
  return { faces: [], edges: lines };
}
