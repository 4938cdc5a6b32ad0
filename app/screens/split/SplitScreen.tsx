import { Button, Select } from '@mantine/core';
import { useCallback, useMemo, useState } from 'react';
import { Link, useFetcher, useOutletContext } from 'react-router';
import { type SplitChoices, splitChoices } from '#core/split/choices';
import type { SplitComponentView, SplitOutlineView, SplitView } from '#server/views/split-view';
import type { action as splitAction } from '../../routes/split';
import { Stage } from '../../stage/Stage';
import { FilterInput } from '../../ui/FilterInput';
import { plural } from '../../ui/format';
import { asRequest } from '../../ui/json-request';
import { Ledger } from '../../ui/Ledger';
import layout from '../../ui/OperationPage.module.css';
import { useUndo } from '../../ui/useUndo';
import { useTyped, useView } from '../../ui/useView';
import { WhatWillChange } from '../../ui/WhatWillChange';
import type { ProjectContext } from '../project/ProjectFrame';
import { columnsFor } from './columns';
import { factsInWords } from './facts';
import { MATERIALS } from './materials';
import { RenameMany } from './RenameMany';
import {
  apart,
  bodyKey,
  componentKey,
  joined,
  pastedNames,
  positionsIn,
  renamed,
  type SplitRow,
  splitRows,
  withChoice,
  withName,
} from './rows';
import { SelectionTools } from './SelectionTools';
import classes from './Split.module.css';
import { SplitChoicesForm } from './SplitChoicesForm';
import { useOutline } from './useOutline';
import { checkInWords, useSplitCheck } from './useSplitCheck';

const NONE: SplitComponentView[] = [];

/** A part of many bodies becomes component files and an assembly: name, choose, see, apply. */
export function SplitScreen({ path, sha256, parts, bodies, ready, scene }: SplitView) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const [view, change] = useView();
  const [query, setQuery] = useTyped('q');
  const [choices, setChoices] = useState(() => splitChoices());
  const [focusKey, setFocusKey] = useState<string | null>(null);
  const [alone, setAlone] = useState(false);
  const [fitRequest, setFitRequest] = useState(0);
  const [appliedChoices, setAppliedChoices] = useState<SplitChoices | null>(null);
  const applying = useFetcher<typeof splitAction>();
  const applied = applying.data && 'applied' in applying.data ? applying.data : null;
  const { undone, button: undoButton } = useUndo(applied?.applied, 'Undo the split');
  const check = useSplitCheck(projectId, undone ? null : applied);
  const { outline, trouble } = useOutline(
    projectId,
    path,
    sha256,
    choices,
    ready === 'ready' || ready === 'failed',
  );

  const update = useCallback(
    (changes: Partial<SplitChoices>) => setChoices((old) => ({ ...old, ...changes })),
    [],
  );
  const components = outline?.components ?? NONE;
  const opened = useMemo(() => view.get('open')?.split(' ') ?? [], [view]);
  // Kept between renders: the stage is lit anew only when the rows are others.
  const rows = useMemo(
    () => splitRows(bodies, components, (key) => !opened.includes(key), query),
    [bodies, components, opened, query],
  );
  const selection = useMemo(() => view.get('sel')?.split(' ').filter(Boolean) ?? [], [view]);
  const selectedKey = selection.at(-1) ?? null;
  const shownComponents = rows.flatMap((row) => (row.kind === 'component' ? [row] : []));

  const setNames = (named: readonly (readonly [SplitComponentView, string])[]) =>
    setChoices((old) => ({
      ...old,
      names: named.reduce((names, [component, name]) => withName(names, bodies, component, name), old.names),
    }));
  const setName = (component: SplitComponentView, name: string) => setNames([[component, name]]);
  const setChosen = (positions: readonly number[], chosen: boolean) => {
    const before =
      choices.bodies ?? components.flatMap((component) => component.bodies.map((n) => bodies[n]!.id));
    const ids = new Set(before);
    for (const position of positions) {
      if (chosen) ids.add(bodies[position]!.id);
      else ids.delete(bodies[position]!.id);
    }
    update({ bodies: bodies.flatMap(({ id }) => (ids.has(id) ? [id] : [])) });
  };
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
  const idsAt = (positions: readonly number[]) => positions.map((position) => bodies[position]!.id);
  const join = () => {
    const ids = idsAt([...lit]);
    setChoices((old) => ({
      ...old,
      together: joins === 'join' ? joined(old.together, ids) : apart(old.together, ids),
    }));
    change({ sel: null });
  };
  const setColour = (positions: readonly number[], colour: string | null) => {
    // A row of several that are selected speaks for all of them.
    const all = positions.some((position) => lit.has(position)) ? [...lit] : positions;
    setChoices((old) => ({ ...old, colours: withChoice(old.colours, idsAt(all), colour) }));
  };
  /** Materials are given to the selected rows, or to all when none is selected. */
  const toMake = lit.size > 0 ? [...lit] : bodies.map((_, n) => n);
  const given = new Set(toMake.map((position) => choices.materials[bodies[position]!.id]));
  const material = given.size === 1 ? ([...given][0] ?? null) : null;
  const setMaterial = (name: string | null) =>
    setChoices((old) => ({ ...old, materials: withChoice(old.materials, idsAt(toMake), name) }));
  const setBodyName = (position: number, name: string) => {
    const { id, name: own } = bodies[position]!;
    const chosen = name === '' || name === own ? null : name;
    setChoices((old) => ({ ...old, bodyNames: withChoice(old.bodyNames, [id], chosen) }));
  };
  const coloured = useMemo(
    () => ({
      ...scene,
      bodies: scene.bodies.map((body, n) => {
        const chosen = choices.colours[bodies[n]!.id];
        return chosen ? { url: body.url, node: body.node, colour: chosen } : body;
      }),
    }),
    [scene, bodies, choices.colours],
  );
  const hidden = useMemo(
    () => new Set(alone && lit.size > 0 ? bodies.flatMap((_, n) => (lit.has(n) ? [] : [n])) : []),
    [alone, lit, bodies],
  );
  const labels = useMemo(
    () =>
      (outline?.components ?? []).flatMap(({ name, problem, bodies: own }) =>
        own.map((row) => ({
          row,
          text: name,
          name,
          tone: problem
            ? ('problem' as const)
            : choices.names[bodies[own[0]!]!.id]
              ? ('typed' as const)
              : undefined,
        })),
      ),
    [outline, bodies, choices.names],
  );

  if (path === null) {
    return (
      <div className={layout.blank}>
        <h1>Nothing to split</h1>
        <p className="muted">
          No part of this project has more than one body. Import one, such as a weldment or a supplier’s
          download, and it can be taken apart here.
        </p>
        <Button component={Link} to={`/projects/${projectId}/files`}>
          Go to Files
        </Button>
      </div>
    );
  }

  const error = applying.data && 'error' in applying.data ? (applying.data.error ?? null) : trouble;
  // Done is done until another choice is made: the plan on the page is the one that was carried out.
  const isDone = applied !== null && !undone && appliedChoices === choices;
  const problems = components.filter(({ problem }) => problem !== null);
  const count = components.reduce((sum, component) => sum + component.bodies.length, 0);
  const pairs = components.filter(({ mirrorOf }, n) => mirrorOf !== null && mirrorOf > n).length;
  const columns = columnsFor({
    choices,
    components,
    mayEdit,
    focusKey,
    setFocusKey,
    setName,
    setColour,
    setBodyName,
    setChosen,
    move,
    paste,
    bodies,
  });
  const mayApply =
    mayEdit &&
    !isDone &&
    outline !== null &&
    problems.length === 0 &&
    applying.state === 'idle' &&
    error === null;

  return (
    <div className={layout.page}>
      <div className={layout.work}>
        <div className={layout.choices}>
          <div className={classes.bar}>
            <Select
              aria-label="Part to split"
              className={classes.part}
              data={[...new Set([path, ...parts.map(({ path: part }) => part)])].map((value) => ({
                value,
                label: `${value.split('/').at(-1)} (${plural(parts.find((part) => part.path === value)?.bodies ?? 1, 'body', 'bodies')})`,
              }))}
              value={path}
              onChange={(value) => change({ file: value, sel: null, open: null, q: null })}
              allowDeselect={false}
              searchable
            />
            <Select
              aria-label={lit.size > 0 ? 'Material of the selected bodies' : 'Material of all bodies'}
              title={
                lit.size > 0 ? 'For the selected bodies' : 'For all bodies; select rows to give them another'
              }
              className={classes.material}
              placeholder={given.size > 1 ? 'Several' : 'Material'}
              data={MATERIALS.map(({ name }) => name)}
              value={material}
              onChange={setMaterial}
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
              onSelect={({ key }) => change({ sel: key })}
              several={{ keys: selection, onSelect: (keys) => change({ sel: keys.join(' ') }) }}
              tree={{
                depth: ({ kind }) => (kind === 'body' ? 1 : 0),
                open: (row) =>
                  row.kind === 'component' && row.bodies.length > 1 ? opened.includes(row.key) : null,
                onToggle: ({ key }, open) =>
                  change({
                    open: (open ? [...opened, key] : opened.filter((other) => other !== key)).join(' '),
                  }),
              }}
              dimmed={({ kind }) => kind === 'left'}
              empty={
                query
                  ? `No component fits “${query}”.`
                  : ready === 'preparing'
                    ? 'The shapes of this part are being prepared. The table fills when they are there.'
                    : (error ?? 'Looking at the bodies…')
              }
            />
          </div>
        </div>
        <div className={layout.stage}>
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
              if (component) setName(component, name);
            }}
            onPick={(pick) => {
              const component = components.find(({ bodies: own }) => own.includes(pick?.row ?? -1));
              const picked =
                pick && (component ? componentKey(bodies, component) : bodyKey(bodies[pick.row]!));
              change({ sel: picked });
            }}
          >
            <SelectionTools
              facts={factsInWords(
                [...lit].map((position) => bodies[position]!),
                choices.materials,
              )}
              count={lit.size}
              isAlone={alone}
              cut={
                lit.size === 1
                  ? `/projects/${projectId}/cut?file=${encodeURIComponent(path)}&body=${bodies[[...lit][0]!]!.id}`
                  : null
              }
              joins={mayEdit ? joins : null}
              onGo={() => setFitRequest(fitRequest + 1)}
              onAlone={() => setAlone(!alone)}
              onJoin={join}
            />
          </Stage>
        </div>
      </div>
      <WhatWillChange
        lines={
          isDone
            ? [`Done: ${applied?.summary}.`, checkInWords(check)]
            : outline === null
              ? []
              : changeLines(outline, choices, count, bodies.length, pairs, path)
        }
        warnings={[
          ...(outline?.warnings ?? []),
          ...problems.map(
            ({ name, problem, proposal }) => `${name || 'A name'}: ${problem} ${proposal} would do.`,
          ),
        ].slice(0, 4)}
        empty={error ?? 'Looking at the bodies…'}
      >
        {applied && !undone && (
          <div className={layout.undo}>
            <Link to={`/projects/${projectId}/structure?root=${encodeURIComponent(applied.assembly ?? '')}`}>
              Open the assembly
            </Link>
            {undoButton}
          </div>
        )}
        {error && outline !== null && (
          <span className={layout.error} role="alert">
            {error}
          </span>
        )}
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
        <Button
          size="sm"
          disabled={!mayApply}
          loading={applying.state !== 'idle'}
          title={mayEdit ? undefined : 'This needs the role editor.'}
          onClick={() => {
            if (!outline) return;
            setAppliedChoices(choices);
            applying.submit(asRequest({ file: path, sha256, choices, base: outline.base }), {
              method: 'post',
              encType: 'application/json',
            });
          }}
        >
          Split off {plural(count, 'body', 'bodies')}
        </Button>
      </WhatWillChange>
    </div>
  );
}

/** Whether the selection can become one component, or is one that can be taken apart. */
function joinsOf(rows: readonly SplitRow[], count: number): 'join' | 'apart' | null {
  const [first] = rows;
  if (rows.length === 1 && first?.kind === 'component') return first.component.isJoined ? 'apart' : null;
  return count > 1 && rows.every(({ kind }) => kind !== 'left') ? 'join' : null;
}

function changeLines(
  { components, folder, assembly, users }: SplitOutlineView,
  choices: SplitChoices,
  count: number,
  total: number,
  pairs: number,
  path: string,
): React.ReactNode[] {
  const kinds = components.some(({ isJoined }) => isJoined) ? 'component' : 'shape';
  const shapes = `${plural(count, 'body', 'bodies')} of ${plural(components.length, kinds)}${pairs > 0 ? `, ${plural(pairs, 'mirrored pair')}` : ''}`;
  const first = choices.inFile ? (
    <>
      {shapes}: one new file <span className="mono">{assembly}</span> with {plural(components.length, 'part')}{' '}
      inside it.
    </>
  ) : (
    <>
      {shapes}: {plural(components.length, 'new file')} in <span className="mono">{folder || '/'}</span> and
      the assembly <span className="mono">{assembly.split('/').at(-1)}</span>, which puts every body back
      where it is.
    </>
  );
  const name = path.split('/').at(-1);
  const rest = {
    keep: `${name} stays as it is.`,
    remove: `${name} keeps ${plural(total - count, 'body', 'bodies')}; the version of now is kept, too.`,
    replace:
      users.length === 0
        ? `${name} stays; no assembly uses it.`
        : `${users.join(', ')} will use the new assembly in its place.`,
  }[choices.rest];
  return [first, rest];
}
