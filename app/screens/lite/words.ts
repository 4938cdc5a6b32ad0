import type { FillKind } from '#core/geometry/fill/opening-kinds';
import type { ReachClass } from '#core/geometry/reach/classes';
import type { Forgettable, Step } from '#core/geometry/reduce/choices';
import type { Reason } from '#core/geometry/reduce/decide';

export const STEP_WORDS: { readonly [step in Step]: string } = {
  size: 'Leave out what is small',
  standard: 'Leave out standard parts',
  material: 'Leave out by material',
  slender: 'Leave out what is long and thin',
  hand: 'Leave out by hand',
  hidden: 'Leave out what cannot be touched from outside',
  fill: 'Fill holes and pockets',
  round: 'Make surfaces coarser',
  forget: 'Forget names and the like',
};

export const REASON_WORDS: { readonly [reason in Reason]: string } = {
  size: 'small',
  standard: 'standard part',
  material: 'material',
  slender: 'long and thin',
  hand: 'by hand',
  hidden: 'cannot be touched from outside',
  seen: 'only seen',
};

export const REACH_WORDS: { readonly [reach in ReachClass]: string } = {
  reached: 'reached',
  seen: 'only seen',
  neither: 'neither',
};

export const FILL_WORDS: { readonly [kind in FillKind]: string } = {
  hole: 'Plain holes',
  counterbore: 'Stepped holes and counterbores',
  pocket: 'Pockets',
  void: 'Inner voids',
  slot: 'Slots, notches and grooves, open over edges',
  engraving: 'Engravings',
  perforation: 'Perforations: many small ones close together',
};

export const FORGET_WORDS: { readonly [what in Forgettable]: string } = {
  names: 'Names of parts, bodies and faces',
  ids: 'Part numbers',
  colours: 'Colours',
  layers: 'Layers',
  materials: 'Materials',
  authors: 'Author and organisation',
};
