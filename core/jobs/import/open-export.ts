import type { NamedContent, NewContent } from '#core/project/change/change-set';
import { ProjectExport } from '#core/project/change/project-export';
import type { Unpacked } from '#core/project/change/unpack';
import { Refusal } from '#core/refusal';

const LIST = 'project.json';

/** The list of a project with 100,000 files and all their versions is a tenth of this. */
const MOST_BYTES = 512 * 1024 * 1024;

/** An exported project that arrived, whole. */
export interface OpenedExport {
  /** As they were when it was exported. */
  files: NamedContent[];
  exported: ProjectExport;
}

/**
 * Opens an exported project and holds every content that it lists against its digest: the files as they were, every older version, and what
 * was published.
 * @param name of the zip, for what is said of it
 * @returns undefined where the zip is no such export
 * @throws Refusal when a content is not what the export says, or is missing
 */
export async function openExport(
  name: string,
  { entries, read }: Unpacked,
): Promise<OpenedExport | undefined> {
  const contents = new Map(
    entries.flatMap((entry) => ('refused' in entry ? [] : [[entry.path, entry] as const])),
  );
  const list = contents.get(LIST);
  if (!list || list.bytes > MOST_BYTES) return undefined;
  const exported = ProjectExport.safeParse(parsed(await read(list))).data;
  if (!exported) return undefined;
  const damaged = (problem: string) =>
    new Refusal(`${name} is damaged, so nothing of it was taken: ${problem}. Export the project again.`);
  const expect = (place: string, sha256: string, what: string): NewContent => {
    const content = contents.get(place);
    if (content?.sha256 !== sha256)
      throw damaged(`${what} ${content ? 'is not what was exported' : 'is missing'}`);
    return content;
  };
  const files = exported.files.map(({ path, sha256 }) => ({
    ...expect(`files/${path}`, sha256, path),
    path,
  }));
  const brought = new Set(files.map(({ sha256 }) => sha256));
  for (const { sha256, path, version } of exported.versions) {
    if (brought.has(sha256)) continue;
    expect(`history/${sha256}`, sha256, `version ${version} of ${path}`);
    brought.add(sha256);
  }
  for (const { path, picture, files: offered } of exported.publications)
    for (const sha256 of [...(picture === null ? [] : [picture]), ...offered.map((file) => file.sha256)])
      expect(`publications/${sha256}`, sha256, `what was published of ${path}`);
  checkHistory(exported, brought, damaged);
  return { files, exported };
}

/**
 * Whether what the history says holds together: versions of changes that are there, and no content but those that came along. What a change
 * replaced can be fetched back, so it must not name what belongs to others.
 */
function checkHistory(
  { files, versions, changes, log }: ProjectExport,
  brought: ReadonlySet<string>,
  damaged: (problem: string) => Refusal,
): void {
  const ids = new Set(changes.map(({ id }) => id));
  if (ids.size < changes.length) throw damaged('two changes have one id');
  const known = new Map(versions.map((state) => [`${state.file} ${state.version}`, state]));
  if (known.size < versions.length) throw damaged('a file has two versions of one number');
  if (new Set(files.map(({ path }) => path)).size < files.length) throw damaged('two files have one path');
  for (const { file, version, path, sha256 } of files)
    if (known.get(`${file} ${version}`)?.sha256 !== sha256) throw damaged(`${path} has no such version`);
  const orphan = [...versions, ...log].find(({ change }) => change !== null && !ids.has(change));
  if (orphan) throw damaged('something was done by a change that is not listed');
  const undone = new Set<string>();
  for (const { undoes, changes: made, summary } of changes) {
    if (undoes !== null && (!ids.has(undoes) || undone.has(undoes)))
      throw damaged(`"${summary}" takes back what is not there to be taken back`);
    if (undoes !== null) undone.add(undoes);
    for (const change of made) {
      const written = change.action === 'write' ? change : change.action === 'move' ? change.written : null;
      for (const sha256 of [change.base, written?.sha256])
        if (sha256 && !brought.has(sha256)) throw damaged(`what "${summary}" changed is not there`);
    }
  }
}

function parsed(bytes: Uint8Array): unknown {
  try {
    return JSON.parse(Buffer.from(bytes).toString('utf8'));
  } catch {
    return undefined;
  }
}
