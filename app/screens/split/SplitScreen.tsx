import { Button } from '@mantine/core';
import { useMemo, useState } from 'react';
import { Link, useOutletContext } from 'react-router';
import type { SplitComponentView, SplitOutlineView } from '#core/jobs/split/view';
import type { MadeBefore } from '#core/project/scan/made-before';
import type { SplitView } from '#server/views/operations/split-view';
import { Stage } from '../../stage/Stage';
import { addressIn } from '../../ui/address/addresses';
import { useTyped, useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { PageTitle } from '../../ui/frame/PageTitle';
import { useMeasures } from '../../ui/measures/useMeasures';
import { OperationPage } from '../../ui/operation/OperationPage';
import { useOperation } from '../../ui/operation/useOperation';
import type { ProjectContext } from '../../ui/project/project-context';
import { factsInWords } from './facts';
import { NothingToSplit } from './NothingToSplit';
import { labelsOf, sceneInChosenColours } from './picture';
import { problemInWords, proposedNames } from './problems';
import { RowItems } from './RowItems';
import { bodyKeys, componentKey } from './rows';
import { SelectionTools } from './SelectionTools';
import { SplitBar } from './SplitBar';
import { SplitChoicesForm } from './SplitChoicesForm';
import { SplitTable } from './SplitTable';
import { splitLines } from './split-lines';
import { checkInWords, useSplitCheck } from './useSplitCheck';
import { useSplitChoices } from './useSplitChoices';
import { useSplitRows } from './useSplitRows';

const NONE: SplitComponentView[] = [];

const OUTDATED = 'What you had chosen was for an older version of this part, and was put aside.';

/** A part of many bodies becomes component files and an assembly: name, choose, see, apply. */
export function SplitScreen({
  path,
  product,
  products,
  sha256,
  parts,
  bodies,
  ready,
  scene,
  before,
}: SplitView & { before: MadeBefore | null }) {
  const measures = useMeasures();
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const [, change] = useView();
  const [query, setQuery] = useTyped('q');
  const { choices, update, setNames, isOutdated, forget, ...choose } = useSplitChoices(bodies, {
    name: `${projectId} ${path ?? ''}`,
    version: sha256,
    product,
  });
  const [alone, setAlone] = useState(false);
  const splitting = useOperation<SplitOutlineView>(
    'split',
    path === null || ready === 'preparing' ? null : { ...choices, file: path },
    'Undo the split',
  );
  const check = useSplitCheck(projectId, splitting.result?.preview.check ?? null);
  const { planned } = splitting;
  // A plan for another version of the part says nothing of the bodies that are shown.
  const outline = planned?.preview.check.sha256 === sha256 ? planned.preview : null;

  const components = outline?.components ?? NONE;
  const table = useSplitRows(bodies, components, query);
  const { shownComponents, lit, selection, toRename, joins } = table;
  /** Materials are given to the selected rows, or to all when none is selected. */
  const toMake = lit.size > 0 ? [...lit] : bodies.map((_, n) => n);
  const given = new Set(toMake.map((position) => choices.materials[bodies[position]!.id]));
  const coloured = useMemo(
    () => sceneInChosenColours(scene, bodies, choices.colours),
    [scene, bodies, choices.colours],
  );
  const { isHidden, toggleHidden, goTo } = selection;
  // What is shown alone follows the selection, as long as there is one.
  const hidden = useMemo(
    () =>
      alone && lit.size > 0 ? new Set(bodies.flatMap((_, n) => (lit.has(n) ? [] : [n]))) : selection.hidden,
    [alone, lit, bodies, selection.hidden],
  );
  const labels = useMemo(() => labelsOf(components, bodies, choices), [components, bodies, choices]);

  if (path === null) return <NothingToSplit />;

  const [only] = lit;
  const cutAddress =
    only !== undefined && lit.size === 1
      ? addressIn(projectId, 'cut', { file: path, body: String(bodies[only]!.id) })
      : null;
  const inPlan = components.flatMap((component) => component.bodies);
  const rowItems = <RowItems table={table} cutAddress={cutAddress} mayEdit={mayEdit} />;
  const problems = components.filter(({ problem }) => problem !== null);
  return (
    <OperationPage
      operation={splitting}
      before={before}
      choices={
        <>
          <PageTitle>Split</PageTitle>
          <SplitBar
            path={path}
            parts={parts}
            product={product}
            products={products}
            query={query}
            setQuery={setQuery}
            material={{ given, isSelection: lit.size > 0, set: (name) => choose.setMaterial(toMake, name) }}
            toRename={toRename.map(({ component }) => component)}
            isRenamingSelection={toRename !== shownComponents}
            onNames={setNames}
          />
          <SplitChoicesForm choices={choices} onChange={update} folder={outline?.folder ?? ''} />
          <SplitTable
            table={table}
            choose={{ setNames, ...choose }}
            choices={choices}
            components={components}
            bodies={bodies}
            inPlan={inPlan}
            mayEdit={mayEdit}
            menu={rowItems}
            empty={
              query
                ? `No component fits “${query}”.`
                : ready === 'preparing'
                  ? 'The shapes of this part are being prepared. The table fills when they are there.'
                  : (splitting.refusal ?? 'Looking at the bodies…')
            }
          />
        </>
      }
      stage={
        <Stage
          scene={coloured}
          sceneKey={path}
          selected={lit}
          hidden={hidden}
          labels={labels}
          spreads
          fitRequest={selection.fitRequest}
          onName={(row, name) => {
            const component = components.find(({ bodies: own }) => own.includes(row));
            if (component) setNames([[component, name]]);
          }}
          onPick={(pick, isAdded) => {
            const component = components.find(({ bodies: own }) => own.includes(pick?.row ?? -1));
            const key = component ? componentKey(bodies, component) : pick && bodyKeys(bodies)[pick.row];
            selection.pick(key ?? null, isAdded);
          }}
          menu={() => rowItems}
        >
          <SelectionTools
            facts={factsInWords(
              [...lit].map((position) => bodies[position]!),
              choices.materials,
              measures,
            )}
            count={lit.size}
            isAlone={alone}
            isHidden={isHidden}
            hidden={selection.hiddenCount}
            cut={cutAddress}
            joins={mayEdit ? joins : null}
            onGo={goTo}
            onHide={toggleHidden}
            onAlone={() => setAlone(!alone)}
            onShowAll={selection.showAll}
            onJoin={() => {
              if (joins) choose.join(lit, joins);
              change({ sel: null });
            }}
          />
        </Stage>
      }
      lines={() => (outline ? splitLines(outline, choices, path, bodies.length) : [])}
      warnings={[...(isOutdated ? [OUTDATED] : []), ...problems.map(problemInWords)]}
      onApplied={forget}
      empty="Looking at the bodies…"
      label={() => (outline ? `Split off ${plural(inPlan.length, 'body', 'bodies')}` : 'Split')}
      doing="Splitting"
      again="Splitting again makes a second set of files: is that meant?"
      outcome={() => [checkInWords(check)]}
      done={({ preview }) => (
        <Link to={addressIn(projectId, 'structure', { root: preview.assembly })}>Open the assembly</Link>
      )}
    >
      {problems.length > 0 && mayEdit && (
        <Button variant="default" onClick={() => setNames(proposedNames(problems))}>
          Take the proposed names
        </Button>
      )}
    </OperationPage>
  );
}
