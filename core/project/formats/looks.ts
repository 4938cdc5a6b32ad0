import { extensionOf } from '#core/files/links/paths';
import type { MeshKind } from '#core/files/mesh-kinds';

/** How a file is looked at in a page: drawings and images, texts, pages, documents, meshes. */
export interface Look {
  as: 'image' | 'text' | 'markdown' | 'page' | 'document' | 'mesh';
  /** Of a mesh: what it is read as. */
  mesh?: MeshKind;
  /** Media type under which it is sent. */
  type: string;
}

const text = (type = 'text/plain'): Look => ({ as: 'text', type: `${type}; charset=utf-8` });
const image = (type: string): Look => ({ as: 'image', type });
/** Files of triangles. Their bytes are read by the page, never by the browser. */
const mesh = (kind: MeshKind): Look => ({ as: 'mesh', mesh: kind, type: 'application/octet-stream' });
const PAGE: Look = { as: 'page', type: 'text/html; charset=utf-8' };

const LOOKS: { readonly [ending: string]: Look } = {
  svg: image('image/svg+xml'),
  png: image('image/png'),
  jpg: image('image/jpeg'),
  jpeg: image('image/jpeg'),
  gif: image('image/gif'),
  webp: image('image/webp'),
  bmp: image('image/bmp'),
  html: PAGE,
  htm: PAGE,
  pdf: { as: 'document', type: 'application/pdf' },
  md: { as: 'markdown', type: 'text/plain; charset=utf-8' },
  txt: text(),
  csv: text(),
  log: text(),
  json: text(),
  xml: text(),
  mtl: text(),
  stl: mesh('stl'),
  ply: mesh('ply'),
  obj: mesh('obj'),
  '3mf': mesh('3mf'),
  gltf: mesh('gltf'),
  glb: mesh('gltf'),
};

/** How a file can be looked at; null for one that cannot, or that has a structure. */
export function lookOf(path: string): Look | null {
  return LOOKS[extensionOf(path)] ?? null;
}
