import { isBroken } from '#core/files/links/resolve';
import type { StructureViewRow } from '#server/views/structure/structure-view';
import type { PlacedRow } from '../assembling/ChangeItems';

/** Rows of the structure with what places them. @param all in which `parent` counts */
export function placedRows(rows: readonly StructureViewRow[], all: readonly StructureViewRow[]): PlacedRow[] {
  return rows.map(({ file, definition, depth, parent, link, bodies, children }) => ({
    file,
    definition,
    holder: depth > 0 ? { file: link?.holder ?? file, definition: all[parent]!.definition } : null,
    isLinked: link !== null && link !== undefined,
    isBroken: link ? isBroken(link.state) : false,
    bodies,
    components: children,
  }));
}
