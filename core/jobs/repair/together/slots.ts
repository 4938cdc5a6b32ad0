import { baseName, folderOf, foldPath, parseWritten } from '#core/files/links/paths';
import { isBroken, writtenPath } from '#core/files/links/resolve';
import { LINK_KINDS, type LinkKind } from '#core/project/formats/kinds';
import { type Designation, wantedBy, wordsOf } from '#core/project/scan/designations';
import type { Project, ProjectLink } from '#core/project/scan/project';

/** What is missed in one place: the broken links that write the same path and ask for the same part. */
export interface Slot {
  links: ProjectLink[];
  kind: LinkKind;
  holders: string[];
  /** File name as written. */
  name: string;
  /** Folder of the project that the path leads to; undefined where it leads to none. */
  folder: string | undefined;
  /** Name of the last folder that is written, in lower case. */
  lastFolder: string | undefined;
  /** The stand-ins of its holders. */
  wanted: Designation[];
  /** Their words that say something. */
  words: ReadonlySet<string>;
  /** Found where the link says, and doubted. */
  doubted: string | undefined;
  /** Slots that ask for the same part do not contend for a file; others of the same kind do. Null where nobody contends. */
  part: string | null;
}

/** The broken links of a project in slots. Links in a loop are left out: a file that fits would not mend them. */
export function slotsOf(project: Project): Slot[] {
  const slots = new Map<string, Slot>();
  const broken = project.links.filter(({ state }) => isBroken(state) && state !== 'loop');
  const isComponent = ({ kind }: ProjectLink) => LINK_KINDS[kind].places;
  // A paper about a part names a file and nothing more: it goes with the component that leads to the same path.
  for (const link of [...broken.filter(isComponent), ...broken.filter((link) => !isComponent(link))]) {
    const path = foldPath(writtenPath(link.holder, link.written) ?? `:${link.written}`);
    const wanted = wantedOf(project, link);
    const words = [...wordsOf(wanted)].sort().join('\t');
    const key = [path, keyOfKind(link), isComponent(link) ? words : '', link.doubted ?? ''].join('\n');
    const aside = `about\n${path}`;
    const known = slots.get(key) ?? (LINK_KINDS[link.kind].isAbout ? slots.get(aside) : undefined);
    if (known) {
      known.links.push(link);
      if (LINK_KINDS[link.kind].places) {
        known.holders.push(link.holder);
        known.wanted.push(...wanted);
      }
      continue;
    }
    const slot = newSlot(link, wanted);
    slots.set(key, slot);
    if (isComponent(link) && !slots.has(aside)) slots.set(aside, slot);
  }
  return [...new Set(slots.values())];
}

function newSlot(link: ProjectLink, wanted: Designation[]): Slot {
  const { holder, written, kind } = link;
  const { origin, segments } = parseWritten(written);
  const path = writtenPath(holder, written);
  const name = segments.at(-1) ?? baseName(written);
  const words = wordsOf(wanted);
  return {
    links: [link],
    kind,
    holders: [holder],
    name,
    folder: path === undefined ? undefined : folderOf(path),
    lastFolder: origin === 'address' ? undefined : segments.at(-2)?.toLowerCase(),
    wanted,
    words,
    doubted: link.doubted,
    part: LINK_KINDS[kind].places ? [foldPath(name), ...[...words].sort()].join('\n') : null,
  };
}

/** Each source remembers a version and bodies of its own. */
function keyOfKind({ kind, holder }: ProjectLink): string {
  return kind === 'source' ? `source ${holder}` : LINK_KINDS[kind].isAbout ? 'about' : kind;
}

/** The holder's products that stand for what is missed. */
function wantedOf(project: Project, { holder, definitions }: ProjectLink): Designation[] {
  const file = project.files.get(holder);
  return file ? wantedBy(file.scan, definitions) : [];
}
