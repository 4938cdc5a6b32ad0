import { Document, NodeIO } from '@gltf-transform/core';
import { strToU8, zipSync } from 'fflate';
import { NO_TIME } from '#core/files/part21/write';
import type { SolidMesh } from '#core/geometry/shape/solid-mesh';
import type { MeshFormat } from './mesh-formats';
import { cornersOf, normalOf } from './triangles';

/** A fixed time, so that files of the same solid are the same. */
const TIME = new Date(`${NO_TIME}Z`);

/** Writes a closed mesh in an open format. Lengths are millimetres; in GLB metres, as glTF wants it, with y up. */
export async function writeMesh(mesh: SolidMesh, format: MeshFormat): Promise<Uint8Array> {
  if (format === 'stl') return stl(mesh);
  return format === '3mf' ? threeMf(mesh) : glb(mesh);
}

/** Binary STL. */
function stl(mesh: SolidMesh): Uint8Array {
  const count = mesh.triangles.length / 3;
  const bytes = new DataView(new ArrayBuffer(84 + 50 * count));
  bytes.setUint32(80, count, true);
  for (let n = 0, at = 84; n < count; n++, at += 50) {
    const triangle = cornersOf(mesh, n);
    for (const [k, value] of [...normalOf(triangle), ...triangle.flat()].entries())
      bytes.setFloat32(at + 4 * k, value, true);
  }
  return new Uint8Array(bytes.buffer);
}

/** 3MF core: one object, one item. */
function threeMf({ positions, triangles }: SolidMesh): Uint8Array {
  const vertices: string[] = [];
  for (let n = 0; n < positions.length; n += 3)
    vertices.push(`<vertex x="${positions[n]}" y="${positions[n + 1]}" z="${positions[n + 2]}"/>`);
  const faces: string[] = [];
  for (let n = 0; n < triangles.length; n += 3)
    faces.push(`<triangle v1="${triangles[n]}" v2="${triangles[n + 1]}" v3="${triangles[n + 2]}"/>`);
  const head = '<?xml version="1.0" encoding="UTF-8"?>\n';
  const model = `${head}<model unit="millimeter" xml:lang="en" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02"><resources><object id="1" type="model"><mesh><vertices>${vertices.join('')}</vertices><triangles>${faces.join('')}</triangles></mesh></object></resources><build><item objectid="1"/></build></model>`;
  const types = `${head}<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>`;
  const relations = `${head}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>`;
  return zipSync(
    {
      '[Content_Types].xml': strToU8(types),
      '_rels/.rels': strToU8(relations),
      '3D/3dmodel.model': strToU8(model),
    },
    { mtime: TIME },
  );
}

/** Binary glTF 2.0. */
async function glb({ positions, triangles }: SolidMesh): Promise<Uint8Array> {
  const document = new Document();
  document.getRoot().getAsset().generator = '';
  const buffer = document.createBuffer();
  const metres = new Float32Array(positions.length);
  for (let n = 0; n < positions.length; n += 3) {
    metres[n] = positions[n]! / 1000;
    metres[n + 1] = positions[n + 2]! / 1000;
    metres[n + 2] = -positions[n + 1]! / 1000;
  }
  const place = document.createAccessor().setType('VEC3').setArray(metres).setBuffer(buffer);
  const index = document
    .createAccessor()
    .setType('SCALAR')
    .setArray(new Uint32Array(triangles))
    .setBuffer(buffer);
  const mesh = document
    .createMesh()
    .addPrimitive(document.createPrimitive().setAttribute('POSITION', place).setIndices(index));
  document.createScene().addChild(document.createNode().setMesh(mesh));
  return new NodeIO().writeBinary(document);
}
