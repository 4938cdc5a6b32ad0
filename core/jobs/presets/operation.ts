import type { OperationByName } from '#core/jobs/follow/remake';
import { operation } from '#core/operation';
import type { Planning } from '#core/planning';
import { manifestOn } from '#core/project/change/project-manifest';
import { MANIFEST_NAME, withPreset } from '#core/project/formats/manifest';
import { Refusal } from '#core/refusal';
import { ByPresetChoices, KeepPresetChoices } from './choices';
import type { ByPresetOutline } from './plan';
import { presetChoices } from './preset-choices';

/**
 * Keeps choices for an operation under a name, in the project's manifest; or takes such a preset out.
 * @param operations by their names
 */
export function keepPresetBy(operations: OperationByName) {
  return operation<KeepPresetChoices, { isThere: boolean }, unknown, Planning>({
    name: 'preset',
    title: 'Keep a preset',
    pageTitle: 'Presets',
    purpose: 'Keep choices for lite models or sealed solids under a name, for any assembly.',
    place: 'give',
    page: 'presets',
    role: 'editor',
    accepts: { what: 'project' },
    choices: KeepPresetChoices,
    cost: 'quick',
    async plan({ draft }, { name, preset }) {
      const kept = preset && { ...preset, choices: presetChoices(operations, preset) };
      const manifest = await manifestOn(draft);
      const { bytes, isThere } = withPreset(manifest, name, kept && { name, ...kept });
      if (!preset && !isThere) throw new Refusal(`No preset of this project is called ${name}.`);
      await draft.write(MANIFEST_NAME, bytes);
      const done = preset ? (isThere ? 'Kept the preset anew' : 'Kept the preset') : 'Took out the preset';
      return { change: await draft.finish(`${done}: ${name}`), preview: { isThere } };
    },
  });
}

/**
 * Makes lighter models of several assemblies, all by one preset.
 * @param operations by their names
 */
export function byPreset(operations: OperationByName) {
  return operation<ByPresetChoices, ByPresetOutline>({
    name: 'by-preset',
    title: 'Make by a preset',
    purpose: 'Make lite models or sealed solids of several assemblies at once, by the choices of a preset.',
    place: 'give',
    page: 'presets',
    role: 'editor',
    accepts: { what: 'files', parameter: 'what', roles: ['assembly', 'part'] },
    choices: ByPresetChoices,
    cost: 'slow',
    plan: async (context, choices) => (await import('./plan')).planByPreset(context, choices, operations),
    form: async () => (await import('./command')).BY_PRESET_FORM,
  });
}
