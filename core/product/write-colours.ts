import { Enumeration, Real, type Reference } from '#core/files/part21/parameters';
import type { Part21Builder } from '#core/files/part21/write';
import type { Colour } from './appearance';

/** Adds the style of a coloured surface (ISO 10303-46). @returns the PRESENTATION_STYLE_ASSIGNMENT */
function addSurfaceStyle(builder: Part21Builder, colour: Colour): Reference {
  const add = builder.add.bind(builder);
  const channels = [1, 3, 5].map(
    (at) => new Real(Math.round((Number.parseInt(colour.slice(at, at + 2), 16) / 255) * 1e4) / 1e4),
  );
  const fill = add('FILL_AREA_STYLE', '', [
    add('FILL_AREA_STYLE_COLOUR', '', add('COLOUR_RGB', '', ...channels)),
  ]);
  const side = add('SURFACE_SIDE_STYLE', '', [add('SURFACE_STYLE_FILL_AREA', fill)]);
  return add('PRESENTATION_STYLE_ASSIGNMENT', [add('SURFACE_STYLE_USAGE', new Enumeration('BOTH'), side)]);
}

/** Colours bodies or faces of a file that is being built, as a presentation of their own. */
export function addColours(
  builder: Part21Builder,
  context: Reference,
  items: readonly { item: Reference; colour: Colour }[],
): void {
  const styles = new Map<Colour, Reference>();
  const styled = items.map(({ item, colour }) => {
    const style = styles.get(colour) ?? addSurfaceStyle(builder, colour);
    styles.set(colour, style);
    return builder.add('STYLED_ITEM', 'colour', [style], item);
  });
  builder.add('MECHANICAL_DESIGN_GEOMETRIC_PRESENTATION_REPRESENTATION', '', styled, context);
}
