import { Button } from '@mantine/core';
import { useMemo, useState } from 'react';
import { Link, useOutletContext } from 'react-router';
import type { Point } from '#core/geometry/shape/cut';
import type { DoneWithFile } from '#server/projects/projects';
import type { CutView } from '#server/views/operations/cut-view';
import { Stage } from '../../stage/Stage';
import { useSketch } from '../../stage/useSketch';
import { addressIn } from '../../ui/address/addresses';
import { plural } from '../../ui/format';
import { OperationPage } from '../../ui/operation/OperationPage';
import type { ProjectContext } from '../../ui/project/project-context';
import classes from './Cut.module.css';
import { CutPane } from './CutPane';
import { type PickedFace, picksFace, planeOf, sketchOf, withPoint } from './draft';
import { sceneWithPieces } from './pieces';
import { useCut } from './useCut';

const NONE: ReadonlySet<number> = new Set();
const OUTDATED = 'What you had drawn was for an older version of this part, and was put aside.';

/** One body is cut into pieces: draw, cut, look, cut again, then keep the pieces as bodies or as components. */
export function CutScreen({ done, ...now }: CutView & { done: readonly DoneWithFile[] }) {
  const { projectId } = useOutletContext<ProjectContext>();
  const cut = useCut(now);
  const { part, body, cutting, draft, setDraft, choices, piece, setPiece, current, nextSnaps, nextBox } = cut;
  const { path, sha256, bodies, target, scene } = part;
  const { isDone } = cutting;
  const [neighbours, setNeighbours] = useState(false);

  const bodyName = body?.name || (body ? `Body #${body.id}` : '');
  const nameOf = useMemo(
    () => (which: string) => choices.names[which] || `${bodyName} ${which}`,
    [choices.names, bodyName],
  );
  const shown = useMemo(
    () => sceneWithPieces(scene, target, current, (which) => `${bodyName} ${which}`),
    [scene, target, current, bodyName],
  );
  const sketch = useMemo(
    () => (isDone || cut.isCutting ? null : sketchOf(draft, nextBox, nextSnaps)),
    [draft, nextBox, nextSnaps, isDone, cut.isCutting],
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
  const isOld = now.sha256 !== sha256 && !isDone;

  return (
    <OperationPage
      operation={cutting}
      width="narrow"
      choices={<CutPane cut={cut} bodyName={bodyName} done={done} />}
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
            if (named) cut.setName(named.path, name);
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
        ...(cut.isOutdated ? [OUTDATED] : []),
        ...(isOld
          ? [`${path} has changed since this page was loaded. Reload it to cut the new version.`]
          : []),
      ]}
      onApplied={cut.forget}
      empty="Nothing yet: the cut is tried first and looked at."
      label={(plan) => (plan ? `Keep ${plural(plan.preview.pieces.length, 'piece')}` : 'Keep the pieces')}
      doing="Keeping the pieces"
      done={() => <Link to={addressIn(projectId, 'split', { file: path })}>Open the part</Link>}
    />
  );
}
