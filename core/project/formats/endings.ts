import { extensionOf } from '#core/files/links/paths';
import type { FileRole } from './link-format';

/** What is known of a format without its module. */
interface KnownFormat {
  format: string;
  /** Its own, unless the contents tell another. */
  role: FileRole;
  /** It can lead to other files: a module reads it. */
  isRead?: true;
  /** It has a product structure. */
  hasStructure?: true;
  /** Its bytes are packed. */
  isPacked?: true;
}

const STEP: KnownFormat = { format: 'step', role: 'part', isRead: true, hasStructure: true };
const GLTF: KnownFormat = { format: 'gltf', role: 'mesh', isRead: true };
const HTML: KnownFormat = { format: 'html', role: 'document', isRead: true };
const JPEG: KnownFormat = { format: 'jpeg', role: 'image' };

/** Formats by ending, in small letters: the one list of endings. It is light, and for browsers, too. */
export const ENDINGS: { readonly [ending: string]: KnownFormat } = {
  stp: STEP,
  step: STEP,
  p21: STEP,
  stpz: { ...STEP, isPacked: true },
  svg: { format: 'svg', role: 'drawing', isRead: true },
  obj: { format: 'obj', role: 'mesh', isRead: true },
  mtl: { format: 'mtl', role: 'other', isRead: true },
  gltf: GLTF,
  glb: GLTF,
  json: { format: 'json', role: 'other', isRead: true },
  dxf: { format: 'dxf', role: 'drawing', isRead: true },
  stl: { format: 'stl', role: 'mesh' },
  '3mf': { format: '3mf', role: 'mesh', isRead: true },
  ply: { format: 'ply', role: 'mesh' },
  png: { format: 'png', role: 'image' },
  jpg: JPEG,
  jpeg: JPEG,
  webp: { format: 'webp', role: 'image' },
  pdf: { format: 'pdf', role: 'document' },
  md: { format: 'markdown', role: 'document' },
  txt: { format: 'text', role: 'document' },
  csv: { format: 'csv', role: 'document' },
  html: HTML,
  htm: HTML,
  xlsx: { format: 'xlsx', role: 'document' },
  gif: { format: 'gif', role: 'image' },
  bmp: { format: 'bmp', role: 'image' },
};

/** The ending of a new file with a product structure. */
export const NEW_ENDING = 'stp';

/** Whether a file is read for its product structure, by its name alone. */
export function hasStructure(path: string): boolean {
  return ENDINGS[extensionOf(path)]?.hasStructure === true;
}

/** Whether a file of this name has its content packed. */
export function isPacked(path: string): boolean {
  return ENDINGS[extensionOf(path)]?.isPacked === true;
}

/** Name of the format of a file that may not be there, by its name alone. */
export function formatByName(path: string): string | undefined {
  return ENDINGS[extensionOf(path)]?.format;
}

/** The role of a file that may not be there, by its name alone. */
export function roleByName(path: string): FileRole {
  return ENDINGS[extensionOf(path)]?.role ?? 'other';
}

/** @example newFileName('flange') // 'flange.stp' */
export function newFileName(stem: string): string {
  return `${stem}.${NEW_ENDING}`;
}
