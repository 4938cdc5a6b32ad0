import type { Part21File } from '#core/files/part21/file';
import { numberOf, referenceOf, referencesOf, Typed, textOf } from '#core/files/part21/parameters';
import type { Colour } from './appearance';

/** ISO 10303-46: the colours that need no numbers. */
const PREDEFINED: { [name: string]: Colour } = {
  red: '#ff0000',
  green: '#00ff00',
  blue: '#0000ff',
  yellow: '#ffff00',
  magenta: '#ff00ff',
  cyan: '#00ffff',
  black: '#000000',
  white: '#ffffff',
};

/**
 * Surface colours by the id of the item that is styled: a body, a shell or a face (ISO 10303-46).
 * Over-riding styles win over plain ones. Cost grows with the number of styled items.
 */
export function readColours(file: Part21File): Map<number, Colour> {
  const colours = new Map<number, Colour>();
  const known = new Map<number, Colour | undefined>();
  for (const keyword of ['STYLED_ITEM', 'OVER_RIDING_STYLED_ITEM']) {
    for (const id of file.idsOfType(keyword)) {
      const parameters = file.entity(id, keyword);
      const item = referenceOf(parameters?.[2]);
      if (item === undefined) continue;
      for (const style of referencesOf(parameters?.[1])) {
        const colour = colourOfStyle(file, style, known);
        if (colour) colours.set(item, colour);
      }
    }
  }
  return colours;
}

function colourOfStyle(
  file: Part21File,
  style: number,
  known: Map<number, Colour | undefined>,
): Colour | undefined {
  if (known.has(style)) return known.get(style);
  const colour = search(file, style, 0);
  known.set(style, colour);
  return colour;
}

/** The way from a style to its colour, entity by entity; everything else that hangs on a style is passed over. */
const ON_THE_WAY = new Set([
  'PRESENTATION_STYLE_ASSIGNMENT',
  'PRESENTATION_STYLE_BY_CONTEXT',
  'SURFACE_STYLE_USAGE',
  'SURFACE_SIDE_STYLE',
  'SURFACE_STYLE_FILL_AREA',
  'FILL_AREA_STYLE',
  'FILL_AREA_STYLE_COLOUR',
  'SURFACE_STYLE_RENDERING',
  'SURFACE_STYLE_RENDERING_WITH_PROPERTIES',
]);

function search(file: Part21File, id: number, depth: number): Colour | undefined {
  if (depth > 8) return undefined;
  const type = file.typeOf(id);
  const parameters = file.parameters(id);
  if (!type || !parameters) return undefined;
  if (type === 'COLOUR_RGB') {
    const channels = [1, 2, 3].map((n) => numberOf(parameters[n]) ?? 0);
    return `#${channels
      .map((channel) =>
        Math.round(Math.min(1, Math.max(0, channel)) * 255)
          .toString(16)
          .padStart(2, '0'),
      )
      .join('')}`;
  }
  if (type === 'DRAUGHTING_PRE_DEFINED_COLOUR' || type === 'PRE_DEFINED_COLOUR')
    return PREDEFINED[textOf(parameters[0])?.toLowerCase() ?? ''];
  if (!ON_THE_WAY.has(type)) return undefined;
  for (const parameter of parameters) {
    const value = parameter instanceof Typed ? parameter.value : parameter;
    const next = Array.isArray(value) ? referencesOf(value) : [referenceOf(value)];
    for (const reference of next) {
      const colour = reference === undefined ? undefined : search(file, reference, depth + 1);
      if (colour) return colour;
    }
  }
  return undefined;
}
