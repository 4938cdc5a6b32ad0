import path from 'node:path';
import type { CommandForm } from '#core/command/form';
import { slashed } from '#core/command/out-file';
import type { ArrangePreview } from '#core/jobs/arrange/choices';
import { COMPONENT_FLAG, occurrencesForm } from '#core/jobs/arrange/command';
import type { Vector3 } from '#core/product/matrix';
import { Refusal } from '#core/refusal';
import type {
  OwnCopyChoices,
  PlaceAgainChoices,
  PlaceChoices,
  ReplaceChoices,
  ReplacePreview,
  SetPlacementChoices,
} from './choices';
import { AXES, type Axis } from './placements';

const PART = { flag: '--part <FILE>', words: 'the file that is placed', isRequired: true as const };
const AT = { flag: '--at <X,Y,Z>', words: 'mm, in the assembly that places it', read: triple };
const TURN = { flag: '--turn <A,B,C>', words: 'degrees about x, then y, then z', read: triple };

/** `place ASSEMBLY --part FILE [--into NAME] [--at X,Y,Z] [--turn A,B,C] [--like NAME]`. */
export const PLACE_FORM: CommandForm<PlaceChoices, ArrangePreview> = {
  ownFlags: ['part', 'position', 'turn'],
  flags: [PART, AT, TURN],
  choices: ({ part, at, turn }, _, root) => ({
    part: inRoot(root, part),
    ...(at !== undefined && { position: at }),
    ...(turn !== undefined && { turn }),
  }),
};

/** `place-again ASSEMBLY --component NAME... --count N --step X,Y,Z`, or `--around x|y|z [--through X,Y,Z] [--angle A]`. */
export const PLACE_AGAIN_FORM: CommandForm<PlaceAgainChoices, ArrangePreview> = {
  ownFlags: ['occurrences', 'step', 'around'],
  flags: [
    COMPONENT_FLAG,
    { flag: '--step <X,Y,Z>', words: 'mm from one to the next in a row', read: triple },
    { flag: '--around <AXIS>', words: 'in a circle around x, y or z', oneOf: Object.keys(AXES) },
    {
      flag: '--through <X,Y,Z>',
      words: 'a point of the axis, mm; the origin unless it is said',
      read: triple,
    },
    {
      flag: '--angle <DEGREES>',
      words: 'from the first to the last; 360, the whole circle, unless it is said',
      read: number,
    },
  ],
  choices: ({ component = [], step, around, through, angle }) => ({
    occurrences: component as string[],
    ...(step !== undefined && { step }),
    ...(around !== undefined && {
      around: { axis: [...AXES[around as Axis]], through: through ?? [0, 0, 0], angle: angle ?? 360 },
    }),
  }),
};

/** `set-placement ASSEMBLY --component NAME... [--at X,Y,Z] [--turn A,B,C] [--relative]`. */
export const SET_PLACEMENT_FORM: CommandForm<SetPlacementChoices, ArrangePreview> = {
  ownFlags: ['occurrences', 'position', 'turn'],
  flags: [COMPONENT_FLAG, AT, TURN],
  choices: ({ component = [], at, turn }) => ({
    occurrences: component as string[],
    ...(at !== undefined && { position: at }),
    ...(turn !== undefined && { turn }),
  }),
};

/** `replace ASSEMBLY --component NAME... --part FILE [--everywhere] [--fit]`. */
export const REPLACE_FORM: CommandForm<ReplaceChoices, ReplacePreview> = {
  ownFlags: ['occurrences', 'part'],
  flags: [COMPONENT_FLAG, { ...PART, words: 'the file that takes their place' }],
  choices: ({ component = [], part }, _, root) => ({
    occurrences: component as string[],
    part: inRoot(root, part),
  }),
};

/** `own-copy ASSEMBLY --component NAME... [--name NAME]`. */
export const OWN_COPY_FORM = occurrencesForm<OwnCopyChoices>();

function inRoot(root: string, file: string): string {
  return slashed(path.relative(root, path.resolve(file)));
}

function triple(text: string): Vector3 {
  const numbers = text.split(',').map(Number);
  if (numbers.length !== 3 || numbers.some((value) => !Number.isFinite(value)))
    throw new Refusal(`${text} should be three numbers with commas between them, such as 10,0,2.5.`);
  return numbers as unknown as Vector3;
}

function number(text: string): number {
  const value = Number(text);
  if (text.trim() === '' || !Number.isFinite(value)) throw new Refusal(`${text} should be a number.`);
  return value;
}
