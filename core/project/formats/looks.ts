import { extensionOf } from '#core/files/links/paths';

/** How a file is looked at in a page that is no model: drawings and images, texts, pages, documents. */
export interface Look {
  as: 'image' | 'text' | 'markdown' | 'page' | 'document';
  /** Media type under which it is sent. */
  type: string;
}

const text = (type = 'text/plain'): Look => ({ as: 'text', type: `${type}; charset=utf-8` });
const image = (type: string): Look => ({ as: 'image', type });
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
  gltf: text(),
};

/** How a file can be looked at; null for one that cannot, or that is a model. */
export function lookOf(path: string): Look | null {
  return LOOKS[extensionOf(path)] ?? null;
}
