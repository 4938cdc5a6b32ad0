import { type ChoiceInWords, choicesInWords } from '#core/choices-in-words';
import { presetsOf } from '#core/jobs/presets/usual-presets';
import { operationNamed } from '#core/operations';
import type { Preset } from '#core/project/formats/presets';
import type { Database } from '#server/db/connection';
import { loadProject } from '#server/projects/scan/project-scan';
import { manifestOf } from '#server/views/files/kept-manifest';

/** A preset as its page shows it. */
export interface PresetRow extends Pick<Preset, 'name' | 'purpose' | 'operation' | 'choices'> {
  /** What it makes: `Lite model`. */
  makes: string;
  /** Page of the operation. */
  page: string;
  /** Whether the project keeps it; others come with every project. */
  isOwn: boolean;
  does: ChoiceInWords[];
}

export interface PresetsView {
  presets: PresetRow[];
  /** What they can be applied to: assemblies first. */
  files: { path: string; role: 'assembly' | 'part'; bytes: number }[];
}

/** The presets of a project, and what there is to apply them to. */
export async function presetsView(db: Database, projectId: string): Promise<PresetsView> {
  const project = await loadProject(db, projectId);
  const own = (await manifestOf(db, project))?.presets ?? [];
  const presets = presetsOf(own).flatMap(({ name, purpose, operation, choices, isOwn }): PresetRow[] => {
    const known = operationNamed(operation);
    // A preset of a newer version stays in the manifest; here nothing can be made by it.
    if (!known?.forAnyFile) return [];
    const does = choicesInWords(known.choices, choices).filter(({ meaning }) => meaning !== '');
    return [{ name, purpose, operation, choices, isOwn, makes: known.title, page: known.page, does }];
  });
  const files = [...project.files.values()].flatMap(({ path, bytes, scan: { role, error } }) =>
    error === null && (role === 'assembly' || role === 'part') ? [{ path, role, bytes }] : [],
  );
  const byRole = (role: string) => (role === 'assembly' ? 0 : 1);
  files.sort((a, b) => byRole(a.role) - byRole(b.role) || (a.path < b.path ? -1 : 1));
  return { presets, files };
}

/** The presets for one operation, to be chosen on its page. */
export async function presetsFor(
  db: Database,
  project: Parameters<typeof manifestOf>[1],
  operation: string,
): Promise<Pick<Preset, 'name' | 'purpose' | 'choices'>[]> {
  const own = (await manifestOf(db, project))?.presets ?? [];
  return presetsOf(own)
    .filter((preset) => preset.operation === operation)
    .map(({ name, purpose, choices }) => ({ name, purpose, choices }));
}
