import type { LeakKind } from '#core/geometry/leaks/leaks';

/** What can be told from a file, by kind. */
export const LEAK_WORDS: { readonly [kind in LeakKind]: string } = {
  names: 'names of parts',
  ids: 'part numbers',
  labels: 'names of faces and edges',
  authors: 'author and organisation',
  colours: 'colours that tell parts apart',
  layers: 'layers',
  materials: 'materials',
  properties: 'properties',
  annotation: 'annotation',
  links: 'links to other files',
  recipe: 'what it was made from, and how',
  comments: 'comments',
  'spare instances': 'instances that nothing needs',
  'inner faces': 'faces that cannot be touched from outside',
};
