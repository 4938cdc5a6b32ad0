import { extensionOf } from '#core/links/paths';
import { looksLikePart21 } from '#core/part21/file';

export type FileRole = 'part' | 'assembly' | 'drawing' | 'mesh' | 'image' | 'document' | 'other';

/** Format and role by extension; STEP files get their role from what they contain. */
const FORMATS: { [extension: string]: { format: string; role: FileRole } } = {
  stp: { format: 'step', role: 'part' },
  step: { format: 'step', role: 'part' },
  p21: { format: 'step', role: 'part' },
  svg: { format: 'svg', role: 'drawing' },
  dxf: { format: 'dxf', role: 'drawing' },
  obj: { format: 'obj', role: 'mesh' },
  mtl: { format: 'mtl', role: 'other' },
  stl: { format: 'stl', role: 'mesh' },
  '3mf': { format: '3mf', role: 'mesh' },
  glb: { format: 'gltf', role: 'mesh' },
  gltf: { format: 'gltf', role: 'mesh' },
  ply: { format: 'ply', role: 'mesh' },
  png: { format: 'png', role: 'image' },
  jpg: { format: 'jpeg', role: 'image' },
  jpeg: { format: 'jpeg', role: 'image' },
  webp: { format: 'webp', role: 'image' },
  pdf: { format: 'pdf', role: 'document' },
  md: { format: 'markdown', role: 'document' },
  txt: { format: 'text', role: 'document' },
  csv: { format: 'csv', role: 'document' },
  html: { format: 'html', role: 'document' },
  json: { format: 'json', role: 'other' },
};

export function formatOf(path: string, bytes: Uint8Array): { format: string; role: FileRole } {
  const byName = FORMATS[extensionOf(path)];
  if (byName) return byName;
  return looksLikePart21(bytes) ? FORMATS.stp! : { format: extensionOf(path) || 'unknown', role: 'other' };
}
