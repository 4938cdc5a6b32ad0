import { z } from 'zod';
import { someOf } from '#core/command/words';
import { baseName } from '#core/files/links/paths';
import { PathIndex, resolveWritten } from '#core/files/links/resolve';
import { MOST_CHOSEN } from '#core/misfit';
import { operation } from '#core/operation';
import type { Planning } from '#core/planning';
import type { ProjectLink } from '#core/project/scan/project';
import { Refusal } from '#core/refusal';

export const RemoveChoices = z.object({
  paths: z.array(z.string().min(1)).min(1).max(MOST_CHOSEN).describe('files and folders'),
});
export type RemoveChoices = z.infer<typeof RemoveChoices>;

/** A link that leads to a file which goes. */
export interface LostLink {
  holder: string;
  kind: ProjectLink['kind'];
  written: string;
  /** The file that goes. */
  to: string;
  /** Where the link leads then: another file of that name, or nowhere. */
  leadsTo: string | null;
}

/** What goes with some files. */
export interface RemovePreview {
  files: { path: string; bytes: number; users: number }[];
  lost: LostLink[];
}

/** Removes files; what used them is named first. */
export const REMOVE = operation<RemoveChoices, RemovePreview, unknown, Planning>({
  name: 'remove',
  command: 'rm',
  title: 'Delete',
  purpose: 'Delete files and folders, after saying what uses them.',
  place: 'files',
  page: 'delete',
  role: 'editor',
  accepts: { what: 'files', parameter: 'what', folders: true },
  key: 'Delete',
  choices: RemoveChoices,
  cost: 'quick',
  async plan({ project, draft }, { paths: asked }) {
    // 1. What goes.
    const going = new Set<string>();
    for (const path of asked.map((path) => path.replace(/\/+$/, ''))) {
      if (draft.has(path)) going.add(path);
      else {
        const inside = draft.filesIn(path);
        if (inside.length === 0) throw new Refusal(`There is no file or folder ${path}.`);
        for (const file of inside) going.add(file);
      }
    }

    // 2. What used it, and where those links lead then.
    const left = new PathIndex([...project.files.keys()].filter((path) => !going.has(path)));
    const lost = [...going].flatMap((path) =>
      (project.usedBy.get(path) ?? [])
        .filter(({ holder }) => !going.has(holder))
        .map(({ holder, kind, written }): LostLink => {
          const { to } = resolveWritten(holder, written, left, project.searchFolders);
          return { holder: holder, kind, written, to: path, leadsTo: to };
        }),
    );
    const nowhere = lost.filter(({ leadsTo }) => leadsTo === null);
    if (nowhere.length > 0) {
      const holders = [...new Set(nowhere.map(({ holder }) => baseName(holder)))];
      draft.warn(
        `${nowhere.length === 1 ? '1 link' : `${nowhere.length} links`} in ${someOf(holders, 3)} will lead nowhere.`,
      );
    }
    for (const { holder, to, leadsTo } of lost)
      if (leadsTo !== null)
        draft.warn(`${baseName(holder)} will find ${leadsTo} in the place of ${to}: it has the same name.`);

    // 3. The change.
    for (const path of going) await draft.remove(path);
    const words = going.size === 1 ? [...going][0] : `${going.size} files`;
    const files = [...going].map((path) => ({
      path,
      bytes: project.files.get(path)!.bytes,
      users: new Set((project.usedBy.get(path) ?? []).map(({ holder }) => holder)).size,
    }));
    return { change: await draft.finish(`Deleted ${words}`), preview: { files, lost } };
  },
  form: async () => (await import('./command')).REMOVE_FORM,
});
