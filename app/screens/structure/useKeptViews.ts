import { useEffect, useMemo, useState } from 'react';
import type { KeptView } from '#core/project/formats/kept-views';
import type { StructureViewRow } from '#server/views/structure/structure-view';
import { writePose } from '../../stage/pose-address';
import type { Pose } from '../../stage/twins';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { announce } from '../../ui/voice';
import { namePaths } from './name-paths';

/** Views of assemblies under names: what is shown now as one of them, and going to one, which the address says (`view`). */
export function useKeptViews(
  views: readonly KeptView[],
  root: string | null,
  rows: readonly StructureViewRow[],
) {
  const [address, change] = useView();
  /** Where one looks from, while the dialog is open. */
  const [pose, setPose] = useState<Pose | null>(null);
  const paths = useMemo(() => namePaths(rows), [rows]);
  const isSingle = address.has('single');
  const wanted = address.get('view');
  const kept = views.find(({ name }) => name === wanted);
  useEffect(() => {
    if (!kept) return;
    // Another structure: it is fetched first.
    if (kept.root !== root || kept.single !== isSingle)
      return change({ ...NOTHING, root: kept.root, single: kept.single ? '1' : null });
    const places = new Map(paths.map((path, n) => [path, n]));
    const hidden = kept.hidden.flatMap((path) => places.get(path) ?? []);
    const gone = kept.hidden.length - hidden.length;
    const { section, colours, eye } = kept;
    change({
      ...NOTHING,
      view: null,
      hidden: hidden.map((n) => rows[n]!.key).join(' '),
      section,
      colours,
      eye,
    });
    announce(
      `View ${kept.name}${gone > 0 ? `; ${plural(gone, 'component that it hides is', 'components that it hides are')} not there any more` : ''}`,
    );
  }, [kept, root, isSingle, paths, rows, change]);

  const hidden = address.get('hidden');
  const shown = useMemo((): Omit<KeptView, 'name'> | null => {
    if (root === null) return null;
    const keys = new Set(hidden?.split(' ').filter(Boolean));
    return {
      root,
      single: isSingle,
      hidden: rows.flatMap(({ key }, n) => (keys.has(key) ? paths[n]! : [])),
      section: address.get('section'),
      colours: address.get('colours'),
      eye: pose && writePose(pose),
    };
  }, [root, isSingle, rows, paths, hidden, address, pose]);
  return {
    /** The name of a view that the address asks for and that there is none of. */
    missing: kept ? null : wanted,
    /** What is shown, as it would be kept. */
    shown,
    isOpen: pose !== null,
    open: setPose,
    close: () => setPose(null),
    // The eye leaves the address first, so that going to the same view twice goes there twice.
    goTo: (name: string) => change({ view: name, eye: null }),
  };
}

/** What a view says anew. */
const NOTHING = { sel: null, also: null, closed: null, unfold: null, within: null, hidden: null, eye: null };
