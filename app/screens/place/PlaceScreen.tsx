import { Button } from '@mantine/core';
import { Suspense, useMemo, useState } from 'react';
import { useOutletContext } from 'react-router';
import type { ArrangePreview } from '#core/jobs/arrange/choices';
import { positionOf, turnOf } from '#core/product/turns';
import type { PlaceView } from '#server/views/operations/place-view';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { later } from '../../ui/later';
import { useOperation } from '../../ui/operation/useOperation';
import { SegmentedControl } from '../../ui/options';
import type { ProjectContext } from '../../ui/project/project-context';
import { AssemblingPage, NothingToDo } from '../assembling/AssemblingPage';
import { occurrencesAsked, occurrenceTable } from '../assembling/occurrences';
import type { Standing } from '../placing/by-hand';
import { placedIn } from '../placing/shown';
import { useByHand } from '../placing/useByHand';
import {
  choicesOf,
  copiesAt,
  heldOf,
  intoOf,
  NOTHING_WANTED,
  posesOf,
  WAYS,
  type Wanted,
  type Way,
} from './choices';
import { PlaceFields } from './PlaceFields';

const WORDS: {
  readonly [way in Way]: { way: string; button: (components: string) => string; empty: string };
} = {
  place: {
    way: 'Place a file',
    button: () => 'Place the file',
    empty: 'Choose the file that is placed. It stands where it is typed, and is lit on the model.',
  },
  'place-again': {
    way: 'Place again',
    button: (components) => `Place ${components} again`,
    empty:
      'Choose components, in the table or on the model, and say how far apart they stand in a row or a circle.',
  },
  'set-placement': {
    way: 'Set placement',
    button: (components) => `Set ${components} there`,
    empty:
      'Choose a component and type where it stands; or several, and how far they are shifted and turned.',
  },
};

const HandPanel = later(async () => (await import('../placing/HandPanel')).HandPanel);

const NOTHING: readonly never[] = [];

/** Components get places in an assembly: a file of the project, those that are there once more, or where they stand. */
export function PlaceScreen(view: PlaceView) {
  const { file, occurrences, assemblies, placements, parts, part, rows, scene } = view;
  const { mayEdit } = useOutletContext<ProjectContext>();
  const [address, change] = useView();
  const way = WAYS.find((one) => one === address.get('do')) ?? 'place';
  const [chosen, setChosen] = useState<readonly string[]>(() =>
    occurrencesAsked(address.get('components'), occurrences),
  );
  const [typed, setTyped] = useState<Wanted>(() => ({
    ...NOTHING_WANTED,
    ...(way === 'set-placement' && standingOf(chosen, placements)),
  }));
  /** Where it stands while it is dragged. */
  const [dragged, setDragged] = useState<Standing | null>(null);
  const asked = address.get('part');
  const settled = useMemo((): Wanted => ({ ...typed, way, part: asked }), [typed, way, asked]);
  const wanted = useMemo((): Wanted => ({ ...settled, ...dragged }), [settled, dragged]);
  const type = (some: Partial<Wanted>) => setTyped((before) => ({ ...before, ...some }));
  const placing = useOperation<ArrangePreview>(way, choicesOf(view, chosen, settled));
  const { isDone } = placing;
  const shown = useMemo(
    () => ({ rows, placements, occurrences, assemblies, part }),
    [rows, placements, occurrences, assemblies, part],
  );
  const poses = useMemo(
    () => (isDone ? undefined : posesOf(shown, chosen, wanted)),
    [isDone, shown, chosen, wanted],
  );
  const into = intoOf(shown, settled);
  const placed = useMemo(
    () => (isDone || way !== 'place' || into === undefined ? NOTHING : placedIn(shown, into)),
    [isDone, way, shown, into],
  );
  const copies = useMemo(
    () => (isDone || way !== 'place-again' ? NOTHING : copiesAt({ ...shown, scene }, chosen, settled)),
    [isDone, way, shown, scene, chosen, settled],
  );
  // Another object is another scene to the stage.
  const drawn = useMemo(() => {
    const added = [...placed, ...copies];
    return added.length === 0 ? scene : { ...scene, instances: [...scene.instances, ...added] };
  }, [scene, placed, copies]);
  const held = useMemo(
    () => (isDone || !mayEdit ? null : heldOf(shown, chosen, settled)),
    [isDone, mayEdit, shown, chosen, settled],
  );
  const hand = useByHand(held, setDragged, type);
  if (file === null) return <NothingToDo title="Nothing to place">This project has no assembly.</NothingToDo>;
  const like = chosen.length === 1 ? occurrences.find(({ key }) => key === chosen[0]) : undefined;
  const choose = (keys: readonly string[]) => {
    setChosen(keys);
    if (way === 'set-placement') type(standingOf(keys, placements));
  };
  return (
    <AssemblingPage
      operation={placing}
      title="Place components"
      fileLabel="In the assembly"
      view={{ ...view, file, scene: drawn }}
      poses={poses}
      tool={hand.tool}
      above={
        held && (
          <Suspense>
            <HandPanel hand={hand} isOne={way === 'place' || chosen.length === 1} />
          </Suspense>
        )
      }
      fields={
        <>
          <SegmentedControl
            aria-label="What to do"
            data={WAYS.map((value) => ({ value, label: WORDS[value].way }))}
            value={way}
            onChange={(value) => {
              change({ do: value });
              type(
                value === 'set-placement'
                  ? standingOf(chosen, placements)
                  : { position: [0, 0, 0], turn: [0, 0, 0] },
              );
            }}
          />
          {way === 'place' && like && (
            <Button
              variant="default"
              disabled={!mayEdit || isDone}
              onClick={() => type({ ...standingOf([like.key], placements), into: like.parent })}
            >
              As {like.name} stands
            </Button>
          )}
          <PlaceFields
            wanted={wanted}
            chosen={chosen.length}
            disabled={!mayEdit || isDone}
            assemblies={assemblies}
            parts={parts}
            onPart={(path) => change({ part: path })}
            onChange={type}
          />
        </>
      }
      table={occurrenceTable(file, occurrences)}
      chosen={chosen}
      onChoose={choose}
      empty={WORDS[way].empty}
      label={() => WORDS[way].button(plural(chosen.length, 'component'))}
      doing="Placing"
      lines={({ summary }) => [`${summary}.`]}
    />
  );
}

/** Where the one component stands that is chosen; nothing typed yet for several. */
function standingOf(
  chosen: readonly string[],
  placements: PlaceView['placements'],
): Pick<Wanted, 'position' | 'turn'> {
  const own = chosen.length === 1 ? placements[chosen[0]!] : undefined;
  return own ? { position: positionOf(own), turn: turnOf(own) } : { position: [0, 0, 0], turn: [0, 0, 0] };
}
