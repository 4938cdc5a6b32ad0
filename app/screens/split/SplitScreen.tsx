import { Button, Menu, Select } from '@mantine/core';
import { useMemo, useState } from 'react';
import { Link, useOutletContext } from 'react-router';
import type { SplitComponentView, SplitOutlineView } from '#core/jobs/split/view';
import { MATERIALS } from '#core/product/materials';
import type { SplitView } from '#server/views/split-view';
import { Stage } from '../../stage/Stage';
import { addressIn } from '../../ui/addresses';
import { FilterInput } from '../../ui/FilterInput';
import { plural } from '../../ui/format';
import { Ledger } from '../../ui/Ledger';
import { OperationPage } from '../../ui/OperationPage';
import layout from '../../ui/OperationPage.module.css';
import { PageTitle } from '../../ui/PageTitle';
import type { ProjectContext } from '../../ui/project-context';
import { renamed } from '../../ui/renamed';
import { useNewest } from '../../ui/useNewest';
import { useOperation } from '../../ui/useOperation';
import { useTyped, useView } from '../../ui/useView';
import { columnsFor } from './columns';
import { factsInWords } from './facts';
import { labelsOf, sceneInChosenColours } from './picture';
import { RenameMany } from './RenameMany';
import {
  bodyKeys,
  componentKey,
  keysNow,
  pastedNames,
  positionsIn,
  positionsOf,
  type SplitRow,
  splitRows,
} from './rows';
import { SelectionTools } from './SelectionTools';
import classes from './Split.module.css';
import { SplitChoicesForm } from './SplitChoicesForm';
import { splitLines } from './split-lines';
import { checkInWords, useSplitCheck } from './useSplitCheck';
import { useSplitChoices } from './useSplitChoices';

const NONE: SplitComponentView[] = [];

const OUTDATED = 'What you had chosen was for an older version of this part, and was put aside.';

/** A part of many bodies becomes component files and an assembly: name, choose, see, apply. */
export function SplitScreen({ path, product, products, sha256, parts, bodies, ready, scene }: SplitView) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const [view, change] = useView();
  const [query, setQuery] = useTyped('q');
  const { choices, update, setNames, isOutdated, forget, ...choose } = useSplitChoices(bodies, {
    name: `${projectId} ${path ?? ''}`,
    version: sha256,
    product,
  });
  const [focusKey, setFocusKey] = useState<string | null>(null);
  const [colourKey, setColourKey] = useState<string | null>(null);
  const [alone, setAlone] = useState(false);
  const [fitRequest, setFitRequest] = useState(0);
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
  const opened = useMemo(() => view.get('open')?.split(' ') ?? [], [view]);
  // Kept between renders: the stage is lit anew only when the rows are others.
  const rows = useMemo(
    () => splitRows(bodies, components, (key) => !opened.includes(key), query),
    [bodies, components, opened, query],
  );
  const selection = useMemo(
    () => keysNow(rows, view.get('sel')?.split(' ').filter(Boolean) ?? []),
    [rows, view],
  );
  const newest = useNewest<readonly string[]>(selection);
  const select = (keys: readonly string[]) => {
    newest.current = keys;
    change({ sel: keys.join(' ') });
  };
  const selectedKey = selection.at(-1) ?? null;
  const shownComponents = rows.flatMap((row) => (row.kind === 'component' ? [row] : []));

  const move = (from: string, step: number) => {
    const at = shownComponents.findIndex(({ key }) => key === from);
    const next = shownComponents[at + step];
    if (!next) return;
    setFocusKey(next.key);
    change({ sel: next.key });
  };
  const paste = (from: string, text: string) => {
    const at = shownComponents.findIndex(({ key }) => key === from);
    setNames(
      pastedNames(text).flatMap((name, n) => {
        const row = shownComponents[at + n];
        return row ? [[row.component, name] as const] : [];
      }),
    );
  };

  const selectedRows = useMemo(() => rows.filter(({ key }) => selection.includes(key)), [rows, selection]);
  const lit = useMemo(() => new Set(positionsIn(selectedRows)), [selectedRows]);
  const selectedComponents = selectedRows.flatMap((row) => (row.kind === 'component' ? [row] : []));
  const toRename = selectedComponents.length > 1 ? selectedComponents : shownComponents;
  const joins = joinsOf(selectedRows, lit.size);
  /** A row of several that are selected speaks for all of them. */
  const meant = (positions: readonly number[]) =>
    positions.some((position) => lit.has(position)) ? [...lit] : positions;
  /** Materials are given to the selected rows, or to all when none is selected. */
  const toMake = lit.size > 0 ? [...lit] : bodies.map((_, n) => n);
  const given = new Set(toMake.map((position) => choices.materials[bodies[position]!.id]));
  const material = given.size === 1 ? ([...given][0] ?? null) : null;
  const coloured = useMemo(
    () => sceneInChosenColours(scene, bodies, choices.colours),
    [scene, bodies, choices.colours],
  );
  const hiddenAlways = useMemo(
    () => positionsOf(bodies, view.get('hidden')?.split(' ') ?? []),
    [bodies, view],
  );
  const hidden = useMemo(
    () => (alone && lit.size > 0 ? new Set(bodies.flatMap((_, n) => (lit.has(n) ? [] : [n]))) : hiddenAlways),
    [alone, lit, bodies, hiddenAlways],
  );
  const isHidden = lit.size > 0 && [...lit].every((position) => hiddenAlways.has(position));
  const toggleHidden = () => {
    const after = new Set(hiddenAlways);
    for (const position of lit) {
      if (isHidden) after.delete(position);
      else after.add(position);
    }
    change({ hidden: [...after].map((position) => bodies[position]!.id).join(' ') || null });
  };
  const labels = useMemo(() => labelsOf(components, bodies, choices), [components, bodies, choices]);

  if (path === null) {
    return (
      <div className={layout.blank}>
        <h1>Nothing to split</h1>
        <p className="muted">
          No part of this project has more than one body. Import one, such as a weldment or a supplier’s
          download, and it can be taken apart here.
        </p>
        <Button component={Link} to={addressIn(projectId, 'files')}>
          Go to Files
        </Button>
      </div>
    );
  }

  const [only] = lit;
  const cutAddress =
    only !== undefined && lit.size === 1
      ? addressIn(projectId, 'cut', { file: path, body: String(bodies[only]!.id) })
      : null;
  const inPlan = components.flatMap((component) => component.bodies);
  const setChosen = (positions: readonly number[], isChosen: boolean) =>
    choose.setChosen(positions, isChosen, inPlan);
  const typeName = ({ key }: SplitRow) => setFocusKey(key);
  const toggleChosen = (row: SplitRow) => {
    const [first] = positionsIn([row]);
    const isChosen = choices.bodies?.includes(bodies[first!]!.id) ?? row.kind !== 'left';
    setChosen(meant(positionsIn([row])), !isChosen);
  };
  const columns = columnsFor({
    choices,
    components,
    mayEdit,
    focusKey,
    setFocusKey,
    leave: (key) => setFocusKey((now) => (now === key ? null : now)),
    setName: (component, name) => setNames([[component, name]]),
    colourKey,
    setColourKey,
    setColour: (positions, colour) => choose.setColour(meant(positions), colour),
    setBodyName: choose.setBodyName,
    setChosen: (positions, isChosen) => setChosen(meant(positions), isChosen),
    isMany: (positions) => meant(positions).length > positions.length,
    move,
    paste,
    bodies,
  });

  const rowItems = (
    <>
      <Menu.Item onClick={() => setFitRequest(fitRequest + 1)}>Go to it</Menu.Item>
      <Menu.Item onClick={toggleHidden}>{isHidden ? 'Show' : 'Hide'}</Menu.Item>
      {mayEdit && selectedKey !== null && (
        <>
          <Menu.Item onClick={() => setFocusKey(selectedKey)}>Type its name</Menu.Item>
          <Menu.Item onClick={() => setColourKey(selectedKey)}>Give it a colour</Menu.Item>
        </>
      )}
      {cutAddress && (
        <Menu.Item component={Link} to={cutAddress}>
          Cut this body
        </Menu.Item>
      )}
    </>
  );
  const problems = components.filter(({ problem }) => problem !== null);
  return (
    <OperationPage
      operation={splitting}
      choices={
        <>
          <PageTitle>Split</PageTitle>
          <div className={classes.bar} data-wraps={products.length > 1 || undefined}>
            <Select
              aria-label="Part to split"
              className={products.length > 1 ? classes.half : classes.part}
              data={[...new Set([path, ...parts.map(({ path: part }) => part)])].map((value) => ({
                value,
                label: `${value.split('/').at(-1)} (${plural(parts.find((part) => part.path === value)?.bodies ?? 1, 'body', 'bodies')})`,
              }))}
              value={path}
              onChange={(value) =>
                change({ file: value, product: null, sel: null, open: null, hidden: null, q: null })
              }
              allowDeselect={false}
              searchable
            />
            {products.length > 1 && (
              <Select
                aria-label="Product of the file"
                className={classes.half}
                placeholder="All of the file"
                data={products.map(({ key, name, bodies: count }) => ({
                  value: key,
                  label: `${name} (${plural(count, 'body', 'bodies')})`,
                }))}
                value={product}
                onChange={(value) => change({ product: value, sel: null, open: null, hidden: null, q: null })}
                clearable
                searchable
              />
            )}
            <Select
              aria-label={lit.size > 0 ? 'Material of the selected bodies' : 'Material of all bodies'}
              title={
                lit.size > 0 ? 'For the selected bodies' : 'For all bodies; select rows to give them another'
              }
              className={classes.material}
              placeholder={given.size > 1 ? 'Several' : 'Material'}
              data={MATERIALS.map(({ name }) => name)}
              value={material}
              onChange={(name) => choose.setMaterial(toMake, name)}
              clearable
            />
            <RenameMany
              count={toRename.length}
              isSelection={toRename !== shownComponents}
              onRename={(how) =>
                setNames(toRename.map(({ component }) => [component, renamed(component.name, how)] as const))
              }
            />
            <FilterInput value={query} onChange={setQuery} />
          </div>
          <SplitChoicesForm choices={choices} onChange={update} folder={outline?.folder ?? ''} />
          <div className={layout.table}>
            <Ledger
              label="Components"
              columns={columns}
              rows={rows}
              keyOf={({ key }) => key}
              selected={selectedKey}
              onSelect={({ key }) => select([key])}
              several={{ keys: selection, onSelect: select }}
              tree={{
                depth: ({ kind }) => (kind === 'body' ? 1 : 0),
                open: (row) =>
                  row.kind === 'component' && row.bodies.length > 1 ? opened.includes(row.key) : null,
                onToggle: ({ key }, open) =>
                  change({
                    open: (open ? [...opened, key] : opened.filter((other) => other !== key)).join(' '),
                  }),
              }}
              dimmed={(row) =>
                row.kind === 'left' || positionsIn([row]).every((position) => hiddenAlways.has(position))
              }
              keys={{
                ' ': toggleChosen,
                Enter: typeName,
                h: toggleHidden,
                c: ({ key }) => mayEdit && setColourKey(key),
              }}
              menu={() => rowItems}
              empty={
                query
                  ? `No component fits “${query}”.`
                  : ready === 'preparing'
                    ? 'The shapes of this part are being prepared. The table fills when they are there.'
                    : (splitting.refusal ?? 'Looking at the bodies…')
              }
            />
          </div>
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
          fitRequest={fitRequest}
          onName={(row, name) => {
            const component = components.find(({ bodies: own }) => own.includes(row));
            if (component) setNames([[component, name]]);
          }}
          onPick={(pick, isAdded) => {
            const component = components.find(({ bodies: own }) => own.includes(pick?.row ?? -1));
            const picked =
              pick && (component ? componentKey(bodies, component) : bodyKeys(bodies)[pick.row]!);
            const others = isAdded ? newest.current.filter((key) => key !== picked) : [];
            if (picked || !isAdded) select(picked ? [...others, picked] : []);
          }}
          menu={() => rowItems}
        >
          <SelectionTools
            facts={factsInWords(
              [...lit].map((position) => bodies[position]!),
              choices.materials,
            )}
            count={lit.size}
            isAlone={alone}
            isHidden={isHidden}
            hidden={hiddenAlways.size}
            cut={cutAddress}
            joins={mayEdit ? joins : null}
            onGo={() => setFitRequest(fitRequest + 1)}
            onHide={toggleHidden}
            onAlone={() => setAlone(!alone)}
            onShowAll={() => change({ hidden: null })}
            onJoin={() => {
              if (joins) choose.join(lit, joins);
              change({ sel: null });
            }}
          />
        </Stage>
      }
      lines={() => (outline ? splitLines(outline, choices, path, bodies.length) : [])}
      warnings={[
        ...(isOutdated ? [OUTDATED] : []),
        ...problems.map(
          ({ name, problem, proposal }) => `${name || 'A name'}: ${problem} ${proposal} would do.`,
        ),
      ]}
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
        <Button
          variant="default"
          onClick={() =>
            setNames(
              problems.flatMap((component) =>
                component.proposal ? [[component, component.proposal] as const] : [],
              ),
            )
          }
        >
          Take the proposed names
        </Button>
      )}
    </OperationPage>
  );
}

/** Whether the selection can become one component, or is one that can be taken apart. */
function joinsOf(rows: readonly SplitRow[], count: number): 'join' | 'apart' | null {
  const [first] = rows;
  if (rows.length === 1 && first?.kind === 'component') return first.component.isJoined ? 'apart' : null;
  return count > 1 && rows.every(({ kind }) => kind !== 'left') ? 'join' : null;
}
