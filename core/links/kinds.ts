/** What a link means, by kind. Whoever needs to know asks this table. */
export type LinkKind = 'component' | 'source' | 'attachment';

interface KindOfLink {
  /** The holder places the target: it is below the holder in the structure, and can form a loop. */
  places: boolean;
}

export const LINK_KINDS: { readonly [kind in LinkKind]: KindOfLink } = {
  component: { places: true },
  source: { places: false },
  attachment: { places: false },
};
