import { OPENING_KINDS } from '#core/geometry/fill/opening-kinds';
import type { Preset } from '#core/project/formats/presets';

/** Presets that every project has, until it keeps one of its own under the name. */
export const USUAL_PRESETS: readonly Preset[] = [
  {
    name: 'For the customer’s assembly',
    purpose:
      'To mount and order it, not to copy it: the outside and what it is mounted by are exact, the inside is closed, nothing is told.',
    operation: 'lite',
    choices: {
      smallerThan: 1,
      hidden: true,
      seen: 'drop',
      fill: [...OPENING_KINDS],
      keepMounting: true,
      outside: true,
      pattern: '{name}-customer',
    },
  },
  {
    name: 'For layout',
    purpose: 'To plan a plant with: one plain solid around all of it, nowhere inside it.',
    operation: 'seal',
    choices: { way: 'envelope', formats: ['glb'], loose: 'drop', pattern: '{name}-layout' },
  },
  {
    name: 'For a page',
    purpose: 'To be turned in a browser: one solid of facets without small parts, beside it as glTF.',
    operation: 'seal',
    choices: {
      way: 'facets',
      within: 0.5,
      smallerThan: 2,
      formats: ['glb'],
      loose: 'drop',
      pattern: '{name}-page',
    },
  },
];

/** The presets of a project: its own, then those of every project that it has none of the same name for. */
export function presetsOf(own: readonly Preset[]): (Preset & { isOwn: boolean })[] {
  const names = new Set(own.map(({ name }) => name));
  return [
    ...own.map((preset) => ({ ...preset, isOwn: true })),
    ...USUAL_PRESETS.filter(({ name }) => !names.has(name)).map((preset) => ({ ...preset, isOwn: false })),
  ];
}
