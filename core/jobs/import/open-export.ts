import type { NamedContent } from '#core/project/change/change-set';
import type { Unpacked } from '#core/project/change/unpack';
import { ProjectExport } from '#core/project/formats/project-export';
import { Refusal } from '#core/refusal';

const LIST = 'project.json';

/**
 * The files of an exported project as they were when it was exported; its history stays in the zip.
 * @param name of the zip, for what is said of it
 * @returns undefined where the zip is no such export
 * @throws Refusal when a file is not what the export says
 */
export async function openExport(
  name: string,
  { entries, read }: Unpacked,
): Promise<NamedContent[] | undefined> {
  const contents = new Map(
    entries.flatMap((entry) => ('refused' in entry ? [] : [[entry.path, entry] as const])),
  );
  const list = contents.get(LIST);
  const exported = list && ProjectExport.safeParse(parsed(await read(list))).data;
  if (!exported) return undefined;
  return exported.files.map(({ path, sha256 }) => {
    const content = contents.get(`files/${path}`);
    if (content?.sha256 !== sha256)
      throw new Refusal(
        `${name} is damaged, so nothing of it was taken: ${path} ${content ? 'is not what was exported' : 'is missing'}. Export the project again.`,
      );
    return { ...content, path };
  });
}

function parsed(bytes: Uint8Array): unknown {
  try {
    return JSON.parse(Buffer.from(bytes).toString('utf8'));
  } catch {
    return undefined;
  }
}
