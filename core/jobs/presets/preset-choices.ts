import { readChoices, unusualChoices } from '#core/choices';
import type { OperationByName } from '#core/jobs/follow/remake';
import type { Preset } from '#core/project/formats/presets';
import { Refusal } from '#core/refusal';

/** A file that choices are read for that are for any file. */
const ANY = 'any';

/**
 * The choices of a preset as they are kept: those that were made otherwise than they are without being said, none that is for one file only.
 * @throws Refusal for an operation that has no presets, and for choices that cannot be read
 */
export function presetChoices(
  operations: OperationByName,
  { operation: name, choices }: Pick<Preset, 'operation' | 'choices'>,
): { [name: string]: unknown } {
  const operation = operations(name);
  if (!operation?.forAnyFile) throw new Refusal(`There are no presets for ${name}.`);
  const read = readChoices(name, operation.choices, { ...choices, file: ANY });
  return unusualChoices(operation.choices, operation.forAnyFile(read));
}
