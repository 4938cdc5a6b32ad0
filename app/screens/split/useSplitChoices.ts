import { useCallback } from 'react';
import { SplitChoices, splitChoices } from '#core/jobs/split/choices';
import type { SplitComponentView } from '#core/jobs/split/view';
import type { SplitBody } from '#server/views/operations/split-view';
import { useKept } from '../../ui/useKept';
import { apart, joined, withChoice, withName } from './rows';

/** Which split it is: its choices are kept under the name until they are carried out, as long as the part has this version. */
interface SplitOf {
  name: string;
  version: string;
  product: string | null;
}

/** The choices of a split, and the ways in which the page changes them. Bodies are given by their positions. */
export function useSplitChoices(bodies: readonly SplitBody[], { name, version, product }: SplitOf) {
  const {
    state: choices,
    setState: setChoices,
    isOutdated,
    forget,
  } = useKept<SplitChoices>(`split ${name} ${product ?? ''}`, version, SplitChoices, () =>
    splitChoices({ product }),
  );
  const update = useCallback(
    (changes: Partial<SplitChoices>) => setChoices((old) => ({ ...old, ...changes })),
    [setChoices],
  );
  const idsAt = (positions: Iterable<number>) => Array.from(positions, (position) => bodies[position]!.id);

  return {
    choices,
    update,
    isOutdated,
    forget,

    setNames: (named: readonly (readonly [SplitComponentView, string])[]) =>
      setChoices((old) => ({
        ...old,
        names: named.reduce(
          (names, [component, name]) => withName(names, bodies, component, name),
          old.names,
        ),
      })),

    /** The source's own name chooses nothing. */
    setBodyName: (position: number, name: string) => {
      const chosen = name === '' || name === bodies[position]!.name ? null : name;
      setChoices((old) => ({ ...old, bodyNames: withChoice(old.bodyNames, idsAt([position]), chosen) }));
    },

    setColour: (positions: Iterable<number>, colour: string | null) => {
      const ids = idsAt(positions);
      setChoices((old) => ({ ...old, colours: withChoice(old.colours, ids, colour) }));
    },

    setMaterial: (positions: Iterable<number>, name: string | null) => {
      const ids = idsAt(positions);
      setChoices((old) => ({ ...old, materials: withChoice(old.materials, ids, name) }));
    },

    /** @param planned the bodies that are split off as long as nothing is chosen */
    setChosen: (positions: Iterable<number>, isChosen: boolean, planned: Iterable<number>) => {
      const ids = idsAt(positions);
      setChoices((old) => {
        const chosen = new Set(old.bodies ?? idsAt(planned));
        for (const id of ids) {
          if (isChosen) chosen.add(id);
          else chosen.delete(id);
        }
        return { ...old, bodies: bodies.flatMap(({ id }) => (chosen.has(id) ? [id] : [])) };
      });
    },

    /** Makes bodies one component, or components of their own again. */
    join: (positions: Iterable<number>, how: 'join' | 'apart') => {
      const ids = idsAt(positions);
      setChoices((old) => ({
        ...old,
        together: how === 'join' ? joined(old.together, ids) : apart(old.together, ids),
      }));
    },
  };
}
