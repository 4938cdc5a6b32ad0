/** Project paths are relative, with `/` between folders; what files write may look like anything. */

/** The last part of a path, whichever separator it uses. */
export function baseName(path: string): string {
  return path.slice(Math.max(path.lastIndexOf('/'), path.lastIndexOf('\\')) + 1).trim();
}

/** The folder of a project path; '' for the top. */
export function folderOf(path: string): string {
  const at = path.lastIndexOf('/');
  return at < 0 ? '' : path.slice(0, at);
}

/** The folder in which all of the paths lie, with its slash; '' when there is no such folder. */
export function commonTopFolder(paths: readonly string[]): string {
  const tops = new Set(paths.map((path) => path.slice(0, path.indexOf('/') + 1)));
  const [top = ''] = tops;
  return tops.size === 1 ? top : '';
}

export function joinPath(folder: string, name: string): string {
  return folder === '' ? name : `${folder}/${name}`;
}

/** Extension without the dot, lower case; '' when there is none. */
export function extensionOf(path: string): string {
  const name = baseName(path);
  const at = name.lastIndexOf('.');
  return at <= 0 ? '' : name.slice(at + 1).toLowerCase();
}

/** A folder as somebody types it: strokes and blanks around it mean nothing. */
export function typedFolder(text: string): string {
  return text.trim().replace(/^\/+|\/+$/g, '');
}

/** The name without its extension. */
export function stemOf(path: string): string {
  const name = baseName(path);
  const at = name.lastIndexOf('.');
  return at <= 0 ? name : name.slice(0, at);
}

export function looksLikeFileName(text: string): boolean {
  return /\.[A-Za-z0-9]{1,8}$/.test(baseName(text));
}

/** A written path taken apart: where it starts from, and its folders and name. */
export interface WrittenPath {
  origin: 'relative' | 'absolute' | 'address';
  segments: string[];
}

/** Understands `/`, `\`, drive letters, `\\server\share` and addresses with a scheme. `file:` counts as absolute. */
export function parseWritten(written: string): WrittenPath {
  const text = written.trim();
  if (!/^$|^[\\/]|[\\:]|\/\/|\/$|(^|\/)\.(\/|$)/.test(text))
    return { origin: 'relative', segments: text.split('/') };
  const scheme = /^([a-z][a-z0-9+.-]+):\/\//i.exec(text)?.[1]?.toLowerCase();
  const path = scheme === 'file' ? safeDecode(text.slice(7)) : text;
  const segments = path.split(/[\\/]+/).filter((segment) => segment !== '' && segment !== '.');
  if (scheme && scheme !== 'file') return { origin: 'address', segments };
  const absolute = scheme === 'file' || /^[\\/]/.test(path) || /^[A-Za-z]:/.test(path);
  return { origin: absolute ? 'absolute' : 'relative', segments };
}

function safeDecode(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}

/** Joins written segments to a folder. Undefined when `..` climbs out of the project. */
export function resolveSegments(folder: string, segments: readonly string[]): string | undefined {
  const out = folder === '' ? [] : folder.split('/');
  for (const segment of segments) {
    if (segment !== '..') out.push(segment);
    else if (out.pop() === undefined) return undefined;
  }
  return out.join('/');
}

/** Whether two paths are the same for a system that minds no case: such a clash loses a file there. */
export function foldPath(path: string): string {
  return (/^[\u0000-\u007f]*$/.test(path) ? path : path.normalize('NFC')).toLowerCase();
}

/** The path itself, or else the first that is free with a number behind its name: `bar.stp`, `bar-2.stp`. */
export function freePath(path: string, isTaken: (path: string) => boolean): string {
  if (!isTaken(path)) return path;
  const name = baseName(path);
  const dot = name.lastIndexOf('.');
  const extension = dot <= 0 ? '' : name.slice(dot);
  for (let n = 2; ; n++) {
    const candidate = joinPath(folderOf(path), `${stemOf(path)}-${n}${extension}`);
    if (!isTaken(candidate)) return candidate;
  }
}

/** The way from one file to another, as a path relative to the first one's folder. */
export function relativePath(from: string, to: string): string {
  const a = folderOf(from) === '' ? [] : folderOf(from).split('/');
  const b = to.split('/');
  let shared = 0;
  while (shared < a.length && shared < b.length - 1 && a[shared] === b[shared]) shared++;
  return [...a.slice(shared).map(() => '..'), ...b.slice(shared)].join('/');
}

const FORBIDDEN = /[<>:"|?*\u0000-\u001f]/;
/** Bidirectional controls (Unicode, UAX 9): a name with one reads otherwise than it is. */
const TURNING = /[\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069]/u;
const RESERVED = /^(con|prn|aux|nul|com[0-9]|lpt[0-9])(\.|$)/i;

/**
 * Why a path may not be used for a file of a project, or undefined when it may. Refuses what climbs out of the
 * folder, what is absolute, and control characters; `strict` also refuses what other systems cannot store.
 */
export function pathProblem(path: string, strict = false): string | undefined {
  if (path === '' || path.length > 1024)
    return path === '' ? 'the path is empty' : 'the path is longer than 1,024 characters';
  if (!path.isWellFormed()) return 'a name in it holds half a character';
  if (path.includes('\\') || path.includes('\0')) return 'the path holds a backslash or a NUL';
  if (path.startsWith('/') || /^[A-Za-z]:/.test(path)) return 'the path is absolute';
  for (const segment of path.split('/')) {
    if (segment === '..' || segment === '.' || segment === '')
      return `the path has a '${segment}' step in it`;
    if (new TextEncoder().encode(segment).length > 255) return 'a name in it is longer than 255 bytes';
    if (/[\u0000-\u001f\u007f]/.test(segment)) return 'a name in it has control characters';
    if (/^\.stonetray/i.test(segment)) return `'${segment}' is a name of Stone Tray’s own records`;
    if (strict && FORBIDDEN.test(segment))
      return `'${FORBIDDEN.exec(segment)![0]}' is not allowed in file names on every system`;
    if (strict && TURNING.test(segment))
      return `'${segment.replaceAll(new RegExp(TURNING, 'gu'), '…')}' holds characters that turn the direction of text`;
    if (strict && (RESERVED.test(segment) || /[. ]$/.test(segment)))
      return `'${segment}' is not a file name on every system`;
  }
  return undefined;
}
