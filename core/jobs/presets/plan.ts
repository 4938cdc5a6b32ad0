import { baseName, folderOf, joinPath, stemOf } from '#core/files/links/paths';
import type { Amounts } from '#core/geometry/reduce/report';
import type { OperationByName } from '#core/jobs/follow/remake';
import { planOperation } from '#core/operation';
import type { Planned } from '#core/planned';
import type { PlanContext } from '#core/planning';
import { newFileName } from '#core/project/formats/endings';
import { MANIFEST_NAME, readManifest } from '#core/project/formats/manifest';
import { madeBefore } from '#core/project/scan/made-before';
import { Refusal, refusalOf } from '#core/refusal';
import type { ByPresetChoices } from './choices';
import { presetChoices } from './preset-choices';
import { presetsOf } from './usual-presets';

type Figures = Pick<Amounts, 'faces' | 'bodies' | 'bytes'>;

/** What would become of one file. */
export interface MadeByPreset {
  file: string;
  /** Path of the new file; null where there is none. */
  made: string | null;
  /** It was made by this preset before, and is made again in its place. */
  isMadeAgain: boolean;
  before: Figures | null;
  after: Figures | null;
  /** Why there is none. */
  why: string | null;
}

export interface ByPresetOutline {
  files: MadeByPreset[];
}

/**
 * Plans to make something of several files, all by the choices of one preset. What it cannot be made of is named, and the rest goes on.
 * @throws Refusal for a preset that is not there, and where nothing can be made of any file
 */
export async function planByPreset(
  context: PlanContext,
  { files, preset: name }: ByPresetChoices,
  operations: OperationByName,
): Promise<Planned<ByPresetOutline>> {
  const { draft, project, progress, signal } = context;
  const manifest = draft.has(MANIFEST_NAME) ? readManifest(await draft.read(MANIFEST_NAME)) : null;
  const preset = presetsOf(manifest?.presets ?? []).find((one) => one.name === name);
  if (!preset) throw new Refusal(`There is no preset ${name}.`);
  const choices = presetChoices(operations, preset);
  const operation = operations(preset.operation)!;
  const pattern = String(choices.pattern ?? '{name}');
  const outline: ByPresetOutline = { files: [] };
  for (const [n, file] of [...new Set(files)].entries()) {
    signal.throwIfAborted();
    await progress(`Making ${baseName(file)} lighter`, n, files.length);
    // What was made of it before under the name that it would get is made again.
    const place = joinPath(folderOf(file), newFileName(pattern.replaceAll('{name}', stemOf(file))));
    const isMadeAgain = madeBefore(project, file, manifest?.outside).some(
      (made) => made.operation === operation.name && made.files.includes(place),
    );
    const own = isMadeAgain ? { ...context, remadeFile: place } : context;
    try {
      const preview = await draft.attempt(async () => {
        const { preview, hindrance } = await planOperation(operation, own, { ...choices, file });
        if (hindrance !== undefined) throw new Refusal(hindrance);
        return preview;
      });
      const { file: made, report } = preview as { file: string; report: Record<'before' | 'after', Amounts> };
      const { before, after } = report;
      outline.files.push({
        file,
        made,
        isMadeAgain,
        before: figures(before),
        after: figures(after),
        why: null,
      });
    } catch (error) {
      const why = refusalOf(error);
      if (why === undefined) throw error;
      outline.files.push({ file, made: null, isMadeAgain, before: null, after: null, why });
      draft.warn(`${file} stays without one. ${why}`);
    }
  }
  const made = outline.files.filter((one) => one.made !== null);
  const [first] = made;
  if (!first) throw new Refusal(outline.files[0]!.why!);
  const what = made.length === 1 ? baseName(first.made!) : `${made.length} files`;
  return { change: await draft.finish(`Made ${what} by “${name}”`), preview: outline };
}

const figures = ({ faces, bodies, bytes }: Figures): Figures => ({ faces, bodies, bytes });
