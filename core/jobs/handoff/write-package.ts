import { Readable } from 'node:stream';
import { ZipFile } from 'yazl';
import { stemOf } from '#core/files/links/paths';
import { type FileSet, sha256 } from '#core/project/change/file-set';
import { scanContent } from '#core/project/scan/content';
import { resolveProject, type ScannedFile } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';
import { contentsPage } from './contents-page';
import { PACKAGE_LIST_NAME, type PackageList } from './package-list';
import { type HandOffPlan, type PackagedFile, packagedContent } from './plan';

export interface WritePackageOptions {
  now: Date;
  /** Told after each file, for progress. */
  onFile?: (done: number, of: number, path: string) => void;
  signal?: AbortSignal;
}

/**
 * Writes a package as a zip: a BagIt bag (RFC 8493) with SHA-256 manifests, a readable contents page and the list of
 * files and links. Every file is read twice, for the list and manifest first and again when its turn in the zip comes:
 * so memory holds one content at a time, however large the package is.
 * @returns the zip as a stream, which fails when a content changes in between; the list of what is in it
 * @throws Refusal when a file no longer is what was planned
 */
export async function writePackage(
  files: FileSet,
  plan: HandOffPlan,
  options: WritePackageOptions,
): Promise<{ zip: Readable; list: PackageList }> {
  const folder = stemOf(plan.rootInside);
  const zip = new ZipFile();
  const output = zip.outputStream as Readable;
  (zip as unknown as NodeJS.EventEmitter).on('error', (error: Error) => output.destroy(error));
  const add = (path: string, content: string) =>
    zip.addBuffer(Buffer.from(content), `${folder}/${path}`, { mtime: options.now });

  // 1. The payload, each file with its links rewritten, hashed and scanned; it is packed later.
  const scanned: ScannedFile[] = [];
  const manifest: string[] = [];
  let octets = 0;
  for (const [n, file] of plan.files.entries()) {
    options.signal?.throwIfAborted();
    const content = await packagedContent(files, file);
    const hash = sha256(content);
    if (file.retargets.length === 0 && hash !== file.sha256)
      throw new Refusal(`${file.from} has changed since the package was planned. Plan it again.`);
    zip.addReadStreamLazy(
      `${folder}/data/${file.to}`,
      { mtime: options.now, size: content.byteLength },
      (give) =>
        void payload(files, file, hash, options.signal).then(
          (stream) => give(null, stream),
          (error: Error) => give(error, undefined as never),
        ),
    );
    manifest.push(`${hash}  data/${bagPath(file.to)}`);
    octets += content.byteLength;
    scanned.push({
      path: file.to,
      bytes: content.byteLength,
      sha256: hash,
      scan: scanContent(file.to, content),
    });
    options.onFile?.(n + 1, plan.files.length, file.to);
  }

  // 2. The list, from what was really packed: links are resolved again inside the package.
  const inside = resolveProject(scanned);
  const list: PackageList = {
    format: 'stonetray-package',
    version: 1,
    title: folder,
    created: options.now.toISOString(),
    root: plan.rootInside,
    files: plan.files.map(({ from, to, why }) => {
      const { bytes, sha256: hash } = inside.files.get(to)!;
      return { path: to, original: from, why, bytes, sha256: hash };
    }),
    links: inside.links.map(({ holder, kind, written, to, state }) => ({
      from: holder,
      kind,
      written,
      to,
      state,
    })),
  };

  // 3. The tag files, and the manifest over them (RFC 8493, 2.2.1).
  const date = options.now.toISOString().slice(0, 10);
  const tags: [string, string][] = [
    ['bagit.txt', 'BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n'],
    [
      'bag-info.txt',
      `Bag-Software-Agent: Stone Tray\nBagging-Date: ${date}\nPayload-Oxum: ${octets}.${plan.files.length}\n`,
    ],
    ['manifest-sha256.txt', `${manifest.join('\n')}\n`],
    [PACKAGE_LIST_NAME, `${JSON.stringify(list, null, 2)}\n`],
    ['contents.html', contentsPage(list)],
  ];
  for (const [name, content] of tags) add(name, content);
  add(
    'tagmanifest-sha256.txt',
    tags.map(([name, content]) => `${sha256(Buffer.from(content))}  ${name}\n`).join(''),
  );
  zip.end();
  return { zip: output, list };
}

/** A content when its turn has come. */
async function payload(
  files: FileSet,
  file: PackagedFile,
  hash: string,
  signal?: AbortSignal,
): Promise<Readable> {
  signal?.throwIfAborted();
  const content = await packagedContent(files, file);
  if (sha256(content) !== hash) throw new Refusal(`${file.from} changed while the package was written.`);
  return Readable.from([content], { objectMode: false });
}

/** Line ends and percent signs in names are written percent-encoded in manifests (RFC 8493, 2.1.3). */
function bagPath(path: string): string {
  return path.replaceAll('%', '%25').replaceAll('\n', '%0A').replaceAll('\r', '%0D');
}
