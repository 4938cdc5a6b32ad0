import { z } from 'zod';
import { Preset } from '#core/project/formats/presets';

export const KeepPresetChoices = z.object({
  name: Preset.shape.name.describe('what the preset is called'),
  /** Null takes the preset of that name out. */
  preset: Preset.omit({ name: true })
    .nullable()
    .default(null)
    .describe('what it is for, the operation, and its choices; left out, the preset goes'),
});
export type KeepPresetChoices = z.infer<typeof KeepPresetChoices>;

export const ByPresetChoices = z.object({
  files: z
    .array(z.string().min(1).max(4000))
    .min(1, 'Nothing was chosen.')
    .max(500)
    .describe('the assemblies and parts'),
  preset: Preset.shape.name.describe('the preset by which they are made'),
});
export type ByPresetChoices = z.infer<typeof ByPresetChoices>;
