import fc from 'fast-check';
import { strToU8, zipSync } from 'fflate';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { MeshFile } from '#core/geometry/scene';
import { writeMesh } from '#core/geometry/shape/mesh-files';
import { Refusal } from '#core/refusal';
import { readMeshFile } from './mesh-file';

// The readers tell the console of every line that they do not know.
beforeEach(() => {
  for (const way of ['error', 'warn'] as const) vi.spyOn(console, way).mockImplementation(() => {});
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

/** Corners of a wedge, mm, and its triangles. */
const WEDGE = {
  positions: new Float32Array([0, 0, 0, 40, 0, 0, 40, 30, 0, 0, 30, 0, 0, 0, 20, 0, 30, 20]),
  triangles: new Uint32Array([0, 2, 1, 0, 3, 2, 0, 1, 4, 2, 3, 5, 0, 4, 3, 3, 4, 5, 1, 2, 5, 1, 5, 4]),
};

/** Reads a file as the stage does. @param others by the path that they are asked for under */
function read(content: Uint8Array | string, mesh: MeshFile, others: { [path: string]: Uint8Array } = {}) {
  const asked: string[] = [];
  vi.stubGlobal('fetch', async (wanted: string | Request) => {
    const address = typeof wanted === 'string' ? wanted : wanted.url;
    if (address === '/it') return new Response(content as BodyInit);
    asked.push(address);
    const found = others[new URL(address).searchParams.get('path')!];
    return found ? new Response(found as BodyInit) : new Response(null, { status: 404 });
  });
  return { asked, answer: readMeshFile('/it', mesh) };
}

async function boxOf(answer: ReturnType<typeof readMeshFile>): Promise<number[]> {
  const { faces } = await answer;
  faces.computeBoundingBox();
  const { min, max } = faces.boundingBox!;
  return [...min.toArray(), ...max.toArray()].map((value) => Number(value.toFixed(3)) + 0);
}

const BOX = [0, 0, 0, 40, 30, 20];

describe('a file of triangles', () => {
  it.each([
    ['stl', 'stl'],
    ['3mf', '3mf'],
    ['glb', 'gltf'],
  ] as const)(
    'that we wrote as %s is as large as it was, with its edges to be measured',
    async (format, kind) => {
      const { answer } = read(await writeMesh(WEDGE, format), { kind });
      expect(await boxOf(answer)).toEqual(BOX);
      const { exact, faces } = await answer;
      expect(faces.getAttribute('position').count).toBe(24);
      // The diagonals of its plane faces are no edges.
      const lengths = exact!.edges.map(({ length }) => Math.round(length * 1000) / 1000);
      expect(lengths.sort((a, b) => a - b)).toEqual([20, 20, 30, 30, 30, 40, 40, 44.721, 44.721]);
    },
  );

  it('has its own unit where it says one: inches of 3MF', async () => {
    const inches = zipSync({
      '[Content_Types].xml': strToU8('<Types/>'),
      '_rels/.rels': strToU8(
        '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="r" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>',
      ),
      '3D/3dmodel.model': strToU8(
        '<model unit="inch" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02"><resources><object id="1" type="model"><mesh><vertices><vertex x="0" y="0" z="0"/><vertex x="2" y="0" z="0"/><vertex x="0" y="1" z="0"/></vertices><triangles><triangle v1="0" v2="1" v3="2"/></triangles></mesh></object></resources><build><item objectid="1"/></build></model>',
      ),
    });
    expect(await boxOf(read(inches, { kind: '3mf' }).answer)).toEqual([0, 0, 0, 50.8, 25.4, 0]);
  });

  it('has the colours of its vertices', async () => {
    const ply =
      'ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\nproperty uchar red\nproperty uchar green\nproperty uchar blue\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 0 255 0 0\n1 0 0 255 0 0\n0 1 0 255 0 0\n3 0 1 2\n';
    const colours = (await read(ply, { kind: 'ply' }).answer).faces.getAttribute('color');
    expect([colours.getX(0), colours.getY(0), colours.getZ(0)]).toEqual([1, 0, 0]);
  });

  it('reads what lies beside it in the project, and asks for nothing else', async () => {
    const gltf = (uri: string) =>
      JSON.stringify({
        asset: { version: '2.0' },
        scenes: [{ nodes: [0] }],
        scene: 0,
        nodes: [{ mesh: 0 }],
        meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
        buffers: [{ uri, byteLength: 36 }],
        bufferViews: [{ buffer: 0, byteLength: 36 }],
        accessors: [
          { bufferView: 0, componentType: 5126, count: 3, type: 'VEC3', min: [0, 0, 0], max: [1, 1, 0] },
        ],
      });
    const places = new Uint8Array(new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0]).buffer);
    const mesh: MeshFile = { kind: 'gltf', folder: '/projects/p/latest?path=parts' };
    const found = read(gltf('../data/wedge%201.bin'), mesh, { 'data/wedge 1.bin': places });
    // y points up in glTF: what is 1 m high stands 1000 mm high.
    expect(await boxOf(found.answer)).toEqual([0, 0, 0, 1000, 0, 1000]);
    for (const outside of ['http://other.test/a.bin', '../../a.bin', '//other.test/a.bin']) {
      const { answer, asked } = read(gltf(outside), mesh, { a: places });
      await expect(answer).rejects.toThrow(Refusal);
      for (const address of asked)
        expect(address).toMatch(/^http:\/\/localhost(:\d+)?\/projects\/p\/latest\?/);
    }
    await expect(read(gltf('a.bin'), { kind: 'gltf' }).answer).rejects.toThrow('did not come along');
  });

  it('is refused in words where it is none, whatever it holds', async () => {
    await expect(read('v 0 0 0\n', { kind: 'obj' }).answer).rejects.toThrow('no triangle');
    await expect(read('v nan 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n', { kind: 'obj' }).answer).rejects.toThrow(
      'no numbers',
    );
    vi.stubGlobal('fetch', async () => new Response('', { headers: { 'Content-Length': '80000001' } }));
    await expect(readMeshFile('/it', { kind: 'stl' })).rejects.toThrow('too large');
    const bomb = zipSync({ '3D/3dmodel.model': new Uint8Array(1000) });
    // In the list at the end of the zip: how large the file is when it is unpacked (APPNOTE 4.3.12).
    const list = Buffer.from(bomb).indexOf(Buffer.from('PK\x01\x02', 'latin1'));
    new DataView(bomb.buffer).setUint32(list + 24, 2_000_000_000, true);
    await expect(read(bomb, { kind: '3mf' }).answer).rejects.toThrow('more than a page can hold');
    await fc.assert(
      fc.asyncProperty(
        fc.uint8Array({ maxLength: 300 }),
        fc.constantFrom('stl', 'ply', 'obj', '3mf', 'gltf'),
        async (content, kind) => {
          const outcome = await read(content, { kind }).answer.catch((error: unknown) => error);
          if (outcome instanceof Error) expect(outcome).toBeInstanceOf(Refusal);
        },
      ),
      { numRuns: 300 },
    );
  });
});
