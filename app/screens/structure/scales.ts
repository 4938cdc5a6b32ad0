import type { StructureViewRow } from '#server/views/structure/structure-view';
import type { Measures, Scale } from '../../ui/measures/measures';

/** One unit for all volumes of a structure, and one for all masses: the largest fixes it. */
export interface Scales {
  volume: Scale;
  mass: Scale;
}

/** @param rows all of the table, folded ones too */
export function scalesOf({ volumes, masses }: Measures, rows: readonly StructureViewRow[]): Scales {
  return {
    volume: volumes(rows.map(({ totals }) => totals.volume)),
    mass: masses(rows.map(({ totals }) => totals.mass)),
  };
}
