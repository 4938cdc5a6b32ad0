/** What a link means, by kind. Whoever needs to know asks this table; nobody asks which format a file has. */
export type LinkKind =
  | 'component'
  | 'resource'
  | 'source'
  | 'context'
  | 'drawing'
  | 'attachment'
  | 'view'
  | 'listed';

interface KindOfLink {
  /** The holder places the target: it is below the holder in the structure. */
  places: boolean;
  /** The holder is not whole without the target, which is in use for it. */
  uses: boolean;
  /** Files that lead to each other so are a mistake. */
  canLoop: boolean;
  /** Whether a package takes the target along. */
  packed: 'always' | 'asked';
  /** The holder is a paper about the target: a package that has the target finds it by looking backwards. */
  isAbout: boolean;
}

export const LINK_KINDS: { readonly [kind in LinkKind]: KindOfLink } = {
  component: { places: true, uses: true, canLoop: true, packed: 'always', isAbout: false },
  resource: { places: false, uses: true, canLoop: false, packed: 'always', isAbout: false },
  source: { places: false, uses: false, canLoop: false, packed: 'asked', isAbout: false },
  context: { places: false, uses: false, canLoop: false, packed: 'asked', isAbout: false },
  drawing: { places: false, uses: false, canLoop: false, packed: 'asked', isAbout: true },
  attachment: { places: false, uses: false, canLoop: false, packed: 'asked', isAbout: false },
  view: { places: false, uses: false, canLoop: false, packed: 'asked', isAbout: false },
  listed: { places: false, uses: false, canLoop: false, packed: 'asked', isAbout: false },
};

export const LINK_KIND_NAMES = Object.keys(LINK_KINDS) as [LinkKind, ...LinkKind[]];
