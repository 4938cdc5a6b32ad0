import { Button, Radio, Select, Stack } from '@mantine/core';
import { useMemo, useState } from 'react';
import { Link, useOutletContext } from 'react-router';
import type { CutChoices } from '#core/cut/plan';
import type { Point } from '#core/shape/cut';
import type { CutView } from '#server/views/cut-view';
import type { AppliedChange } from '#server/views/planned-view';
import { Stage } from '../../stage/Stage';
import { plural } from '../../ui/format';
import layout from '../../ui/OperationPage.module.css';
import { TaskBar } from '../../ui/TaskBar';
import { useTask } from '../../ui/useTask';
import { useUndo } from '../../ui/useUndo';
import { useView } from '../../ui/useView';
import { WhatWillChange } from '../../ui/WhatWillChange';
import type { ProjectContext } from '../project/ProjectFrame';
import classes from './Cut.module.css';
import { CutterForm } from './CutterForm';
import { cutterOf, freshDraft, type PickedFace, picksFace, planeOf, sketchOf, withPoint } from './draft';
import { PiecesList } from './PiecesList';
import { sceneWithPieces } from './pieces';
import { useCutPlan } from './useCutPlan';
import { useCuts } from './useCuts';

const NONE: ReadonlySet<number> = new Set();

/** One body is cut into pieces: draw, cut, look, cut again, then keep the pieces as bodies or as components. */
export function CutScreen(now: CutView) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const [, change] = useView();
  // What was opened is what is cut; a newer version of the file comes with a reload.
  const [{ path, sha256, bodies, target, snaps, box, users, scene }] = useState(now);
  const body = target === null ? null : bodies[target]!;
  const { current, running, error, cut, cancel, takeBack } = useCuts({
    file: path,
    sha256,
    body: body?.id ?? null,
  });
  const [piece, setPiece] = useState<string | null>(null);
  const [draft, setDraft] = useState(() => freshDraft('line', 'face', box));
  const [choices, setChoices] = useState<CutChoices>({ as: 'bodies', names: {}, folder: null });
  const [neighbours, setNeighbours] = useState(false);
  const keeping = useTask<AppliedChange>();
  const applied = keeping.done?.result ?? null;
  const refused = keeping.error;
  const { undone, button: undoButton } = useUndo(applied?.applied);
  const isDone = applied !== null && !undone;
  const { plan, trouble } = useCutPlan(projectId, isDone ? null : (current?.id ?? null), choices);

  const bodyName = body?.name || (body ? `Body #${body.id}` : '');
  const nameOf = useMemo(
    () => (which: string) => choices.names[which] || `${bodyName} ${which}`,
    [choices.names, bodyName],
  );
  const shown = useMemo(
    () => sceneWithPieces(scene, target, current, projectId, (which) => `${bodyName} ${which}`),
    [scene, target, current, projectId, bodyName],
  );
  // The piece that is cut next: the one that is chosen, else the largest.
  const chosen = current?.pieces.find(({ path: own }) => own === piece) ?? current?.pieces[0] ?? null;
  const [nextSnaps, nextBox] = chosen ? [chosen.snaps, chosen.facts.box] : [snaps, box];
  const sketch = useMemo(
    () => (isDone || running ? null : sketchOf(draft, nextBox, nextSnaps)),
    [draft, nextBox, nextSnaps, isDone, running],
  );
  const hidden = useMemo(
    () => (neighbours ? NONE : new Set(scene.instances.flatMap(({ row }) => (row === target ? [] : [row])))),
    [neighbours, scene, target],
  );
  const selected = useMemo(() => {
    const at = current?.pieces.findIndex(({ path: own }) => own === piece) ?? -1;
    return at < 0 ? NONE : new Set([scene.bodies.length + at]);
  }, [current, piece, scene]);
  const labels = useMemo(
    () =>
      current?.pieces.map(({ path: own }, n) => ({
        row: scene.bodies.length + n,
        text: nameOf(own),
        name: nameOf(own),
      })) ?? [],
    [current, scene, nameOf],
  );

  // Whoever draws looks straight at the plane.
  const plane = draft.kind === 'line' ? planeOf(draft, nextBox) : null;
  const normal = plane?.normal.join(' ') ?? '';
  const lookFrom = useMemo(
    () => (normal ? (normal.split(' ').map(Number) as unknown as Point) : null),
    [normal],
  );
  const cutter = cutterOf(draft, nextBox);
  const wantsFace = picksFace(draft);
  const pick = (picked: Parameters<NonNullable<Parameters<typeof Stage>[0]['onPick']>>[0]) => {
    const at = picked ? picked.row - scene.bodies.length : -1;
    const own = current?.pieces[at];
    if (!picked || !('face' in picked)) return;
    if (!wantsFace) {
      setPiece(own && own.path !== piece ? own.path : null);
      return;
    }
    const face: PickedFace = {
      of: own ? own.path : bodies[picked.row]!.id,
      face: picked.face,
      row: picked.row,
      at: picked.point,
      normal: picked.normal,
      isFlat: picked.isFlat,
      name: picked.name,
    };
    setDraft({ ...draft, face, points: [] });
  };
  const again = () => {
    setPiece(null);
    setDraft(freshDraft(draft.kind, draft.on, nextBox));
  };
  const isStale = now.sha256 !== sha256 && !applied;
  const failed = trouble ?? refused;

  return (
    <div className={layout.page}>
      <div className={layout.work} data-choices="narrow">
        <div className={layout.choices}>
          <div className={classes.head}>
            <h1>Cut</h1>
            <Select
              aria-label="Body to cut"
              data={bodies.flatMap(({ id, name, kind }) =>
                kind === 'solid' ? [{ value: String(id), label: name || `Body #${id}` }] : [],
              )}
              value={body ? String(body.id) : null}
              onChange={(value) => change({ body: value })}
              allowDeselect={false}
              searchable
              disabled={current !== null}
              title={current ? 'Take the cuts back to choose another body.' : undefined}
            />
            <span className="muted">of {path}</span>
          </div>
          <div className={classes.scroll}>
            {!isDone && <CutterForm draft={draft} box={nextBox} onChange={setDraft} />}
            {!isDone && (
              <div className={classes.go}>
                {running ? (
                  <TaskBar progress={running} label="Cutting" onCancel={cancel} />
                ) : (
                  <>
                    <Button
                      disabled={!mayEdit || !('cutter' in cutter) || body === null}
                      title={mayEdit ? undefined : 'This needs the role editor.'}
                      onClick={() => {
                        if (!('cutter' in cutter)) return;
                        void cut({ piece: chosen?.path ?? '', cutter: cutter.cutter }).then(
                          (made) => made && again(),
                        );
                      }}
                    >
                      {chosen ? `Cut piece ${chosen.path} again` : 'Try the cut'}
                    </Button>
                    <span className="muted" role="status">
                      {'missing' in cutter ? cutter.missing : 'Nothing is changed yet.'}
                    </span>
                  </>
                )}
              </div>
            )}
            {error && (
              <p className={classes.trouble} role="alert">
                {error}
              </p>
            )}
            {current && (
              <PiecesList
                steps={current.steps}
                pieces={current.pieces}
                names={choices.names}
                nameOf={(which) => `${bodyName} ${which}`}
                selected={piece}
                onSelect={setPiece}
                onName={(which, name) =>
                  setChoices({ ...choices, names: { ...choices.names, [which]: name } })
                }
                onTakeBack={() => {
                  takeBack();
                  again();
                }}
                disabled={isDone || running !== null}
              />
            )}
            {current && !isDone && (
              <Radio.Group
                className={classes.as}
                label="The pieces become"
                value={choices.as}
                onChange={(as) => setChoices({ ...choices, as: as as CutChoices['as'] })}
              >
                <Stack gap={6} mt={6}>
                  <Radio value="bodies" label="Bodies of this part" />
                  <Radio value="nested" label="Components, nested in an assembly in the part’s place" />
                  <Radio
                    value="top"
                    disabled={users === 0}
                    label={
                      users === 0
                        ? 'Components beside the part (no assembly uses it)'
                        : users === 1
                          ? 'Components beside the part, in the assembly that uses it'
                          : `Components beside the part, in the ${users} assemblies that use it`
                    }
                  />
                </Stack>
              </Radio.Group>
            )}
          </div>
        </div>
        <div className={layout.stage}>
          <Stage
            scene={shown}
            sceneKey={`${path} ${body?.id}`}
            selected={selected}
            hidden={hidden}
            labels={labels}
            spreads={current !== null}
            sketch={sketch}
            onPick={pick}
            lookFrom={lookFrom}
            onPoint={(point) => setDraft(withPoint(draft, point))}
            onName={(row, name) => {
              const named = current?.pieces[row - scene.bodies.length];
              if (named) setChoices({ ...choices, names: { ...choices.names, [named.path]: name } });
            }}
          >
            <div className={classes.tools} role="toolbar" aria-label="What is shown">
              <Button
                variant={neighbours ? 'light' : 'default'}
                aria-pressed={neighbours}
                disabled={bodies.length < 2}
                onClick={() => setNeighbours(!neighbours)}
              >
                Neighbours
              </Button>
            </div>
          </Stage>
        </div>
      </div>
      <WhatWillChange
        lines={isDone ? [`Done: ${applied?.summary}.`] : plan ? planLines(plan.files, path) : []}
        warnings={[
          ...(isStale
            ? [`${path} has changed since this page was loaded. Reload it to cut the new version.`]
            : []),
          ...(plan?.warnings ?? []),
        ]}
        empty={
          failed ??
          (current ? 'Looking at what changes…' : 'Nothing yet: the cut is tried first and looked at.')
        }
      >
        {isDone ? (
          <div className={layout.undo}>
            <Link to={`/projects/${projectId}/split?file=${encodeURIComponent(path)}`}>Open the part</Link>
            {undoButton}
          </div>
        ) : keeping.running ? (
          <TaskBar progress={keeping.running} label="Keeping the pieces" onCancel={keeping.cancel} />
        ) : (
          <>
            {refused && <span className={layout.error}>{refused}</span>}
            <Button
              size="sm"
              disabled={!mayEdit || !plan || failed !== null || isStale || running !== null}
              onClick={() => current && void keeping.start('keep-pieces', { cut: current.id, choices })}
            >
              {current ? `Keep ${plural(current.pieces.length, 'piece')}` : 'Keep the pieces'}
            </Button>
          </>
        )}
      </WhatWillChange>
    </div>
  );
}

function planLines(files: readonly { path: string; isNew: boolean }[], path: string): React.ReactNode[] {
  const fresh = files.filter(({ isNew }) => isNew);
  const again = files.filter(({ isNew }) => !isNew);
  const list = (paths: readonly { path: string }[]) =>
    paths.map((file, n) => (
      <span key={file.path} className="mono">
        {n > 0 && ', '}
        {file.path}
      </span>
    ));
  return [
    ...(again.length > 0
      ? [
          <>
            A new version of {list(again)}
            {again.some((file) => file.path === path) ? '; the version of now is kept, too.' : '.'}
          </>,
        ]
      : []),
    ...(fresh.length > 0
      ? [
          <>
            {plural(fresh.length, 'new file')}: {list(fresh)}.
          </>,
        ]
      : []),
  ];
}
