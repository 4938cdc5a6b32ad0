import { Button, Radio, Select, Stack } from '@mantine/core';
import { useEffect, useMemo, useState } from 'react';
import { Link, useOutletContext } from 'react-router';
import type { CutStep, Point } from '#core/geometry/shape/cut';
import type { CutChoices } from '#core/jobs/cut/choices';
import type { CutPreview } from '#core/jobs/cut/view';
import type { CutView } from '#server/views/cut-view';
import { Stage } from '../../stage/Stage';
import { useSketch } from '../../stage/useSketch';
import { addressIn } from '../../ui/addresses';
import { plural } from '../../ui/format';
import { OperationPage } from '../../ui/OperationPage';
import type { ProjectContext } from '../../ui/project-context';
import { useKept } from '../../ui/useKept';
import { useOperation } from '../../ui/useOperation';
import { useView } from '../../ui/useView';
import classes from './Cut.module.css';
import { CutterForm } from './CutterForm';
import {
  type CutState,
  cutterOf,
  type Draft,
  freshDraft,
  KeptCut,
  type PickedFace,
  picksFace,
  planeOf,
  sketchOf,
  withPoint,
} from './draft';
import { PiecesList } from './PiecesList';
import { sceneWithPieces } from './pieces';

const NONE: ReadonlySet<number> = new Set();
const OUTDATED = 'What you had drawn was for an older version of this part, and was put aside.';

/** One body is cut into pieces: draw, cut, look, cut again, then keep the pieces as bodies or as components. */
export function CutScreen(now: CutView) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const [, change] = useView();
  // What was opened is what is cut; a newer version of the file comes with a reload.
  const [{ path, sha256, bodies, target, snaps, box, users, scene }] = useState(now);
  const body = target === null ? null : bodies[target]!;
  const { state, setState, isOutdated, forget } = useKept<CutState>(
    `cut ${projectId} ${path} ${body?.id}`,
    sha256,
    KeptCut,
    () => ({
      steps: [],
      draft: freshDraft('line', 'face', box),
      choices: { as: 'bodies', names: {}, folder: null },
    }),
  );
  const { steps, draft, choices } = state;
  const setSteps = (next: (before: readonly CutStep[]) => readonly CutStep[]) =>
    setState((before) => ({ ...before, steps: next(before.steps) }));
  const setDraft = (next: Draft) => setState((before) => ({ ...before, draft: next }));
  const setChoices = (next: CutChoices) => setState((before) => ({ ...before, choices: next }));
  const [piece, setPiece] = useState<string | null>(null);
  const [neighbours, setNeighbours] = useState(false);
  const cutting = useOperation<CutPreview>(
    'cut',
    body === null || steps.length === 0 ? null : { ...choices, file: path, body: body.id, steps },
  );
  const { planned, refusal, isStale, isStopped, isDone } = cutting;
  const isCutting = isStale && !isStopped;
  const current = steps.length === 0 ? null : (planned?.preview ?? null);
  /** A cut is being tried: the next one is drawn when it is made, and this one stays to be corrected when it is not. */
  const [isTrying, setTrying] = useState(false);
  /** Why the last cut could not be made: it is taken out again, and what was cut before stays. */
  const [trouble, setTrouble] = useState<string | null>(null);
  useEffect(() => {
    if (refusal === null && !isStopped) return;
    setTrouble(refusal ?? 'The cut was stopped.');
    setTrying(false);
    if (!isDone) setState((before) => ({ ...before, steps: before.steps.slice(0, -1) }));
  }, [refusal, isStopped, isDone, setState]);

  const bodyName = body?.name || (body ? `Body #${body.id}` : '');
  const nameOf = useMemo(
    () => (which: string) => choices.names[which] || `${bodyName} ${which}`,
    [choices.names, bodyName],
  );
  const shown = useMemo(
    () => sceneWithPieces(scene, target, current, (which) => `${bodyName} ${which}`),
    [scene, target, current, bodyName],
  );
  // The piece that is cut next: the one that is chosen, else the largest.
  const chosen = current?.pieces.find(({ path: own }) => own === piece) ?? current?.pieces[0] ?? null;
  const [nextSnaps, nextBox] = chosen ? [chosen.snaps, chosen.facts.box] : [snaps, box];
  const sketch = useMemo(
    () => (isDone || isCutting ? null : sketchOf(draft, nextBox, nextSnaps)),
    [draft, nextBox, nextSnaps, isDone, isCutting],
  );
  const tool = useSketch(sketch, (point) => setDraft(withPoint(draft, point)));
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
  useEffect(() => {
    if (!isTrying || isStale || refusal !== null || !planned) return;
    setTrying(false);
    setPiece(null);
    const largest = planned.preview.pieces[0]?.facts.box ?? null;
    setState((before) => ({ ...before, draft: freshDraft(before.draft.kind, before.draft.on, largest) }));
  }, [isTrying, isStale, refusal, planned, setState]);
  const isOld = now.sha256 !== sha256 && !isDone;

  return (
    <OperationPage
      operation={cutting}
      width="narrow"
      choices={
        <>
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
                <Button
                  disabled={!mayEdit || !('cutter' in cutter) || body === null || isCutting}
                  loading={isCutting}
                  title={mayEdit ? undefined : 'This needs the role editor.'}
                  onClick={() => {
                    if (!('cutter' in cutter)) return;
                    setTrouble(null);
                    setTrying(true);
                    setSteps((before) => [...before, { piece: chosen?.path ?? '', cutter: cutter.cutter }]);
                  }}
                >
                  {chosen ? `Cut piece ${chosen.path} again` : 'Try the cut'}
                </Button>
                <span className="muted" role="status">
                  {'missing' in cutter ? cutter.missing : 'Nothing is changed yet.'}
                </span>
              </div>
            )}
            {trouble && (
              <p className={classes.trouble} role="alert">
                {trouble}
              </p>
            )}
            {current && (
              <PiecesList
                steps={steps}
                pieces={current.pieces}
                names={choices.names}
                nameOf={(which) => `${bodyName} ${which}`}
                selected={piece}
                onSelect={setPiece}
                onName={(which, name) =>
                  setChoices({ ...choices, names: { ...choices.names, [which]: name } })
                }
                onTakeBack={() => {
                  setTrouble(null);
                  setSteps((before) => before.slice(0, -1));
                  again();
                }}
                disabled={isDone || isCutting}
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
        </>
      }
      stage={
        <Stage
          scene={shown}
          sceneKey={`${path} ${body?.id}`}
          selected={selected}
          hidden={hidden}
          labels={labels}
          spreads={current !== null}
          tool={tool}
          onPick={pick}
          lookFrom={lookFrom}
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
      }
      warnings={[
        ...(isOutdated ? [OUTDATED] : []),
        ...(isOld
          ? [`${path} has changed since this page was loaded. Reload it to cut the new version.`]
          : []),
      ]}
      onApplied={forget}
      empty="Nothing yet: the cut is tried first and looked at."
      label={(plan) => (plan ? `Keep ${plural(plan.preview.pieces.length, 'piece')}` : 'Keep the pieces')}
      doing="Keeping the pieces"
      done={() => <Link to={addressIn(projectId, 'split', { file: path })}>Open the part</Link>}
    />
  );
}
