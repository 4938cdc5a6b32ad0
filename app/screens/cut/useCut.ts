import { useEffect, useState } from 'react';
import { useOutletContext } from 'react-router';
import type { CutStep } from '#core/geometry/shape/cut';
import type { CutChoices } from '#core/jobs/cut/choices';
import type { CutPreview } from '#core/jobs/cut/view';
import type { CutView } from '#server/views/operations/cut-view';
import { useOperation } from '../../ui/operation/useOperation';
import type { ProjectContext } from '../../ui/project/project-context';
import { useKept } from '../../ui/useKept';
import { type CutState, cutterOf, type Draft, freshDraft, KeptCut } from './draft';

/** A cut as far as it has come: what is drawn, what was cut, what the pieces become. A cut that cannot be made is taken out again. */
export function useCut(now: CutView) {
  const { projectId } = useOutletContext<ProjectContext>();
  // What was opened is what is cut; a newer version of the file comes with a reload.
  const [{ path, parts, sha256, bodies, target, snaps, box, users, scene }] = useState(now);
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
  // The piece that is cut next: the one that is chosen, else the largest.
  const chosen = current?.pieces.find(({ path: own }) => own === piece) ?? current?.pieces[0] ?? null;
  const [nextSnaps, nextBox] = chosen ? [chosen.snaps, chosen.facts.box] : [snaps, box];
  useEffect(() => {
    if (!isTrying || isStale || refusal !== null || !planned) return;
    setTrying(false);
    setPiece(null);
    const largest = planned.preview.pieces[0]?.facts.box ?? null;
    setState((before) => ({ ...before, draft: freshDraft(before.draft.kind, before.draft.on, largest) }));
  }, [isTrying, isStale, refusal, planned, setState]);
  const cutter = cutterOf(draft, nextBox);
  return {
    part: { path, parts, sha256, bodies, target, users, scene },
    body,
    cutting,
    isOutdated,
    forget,
    steps,
    draft,
    setDraft,
    choices,
    setChoices,
    piece,
    setPiece,
    current,
    isCutting,
    trouble,
    chosen,
    nextSnaps,
    nextBox,
    cutter,
    setName: (which: string, name: string) =>
      setChoices({ ...choices, names: { ...choices.names, [which]: name } }),
    /** Cuts what is drawn, for a look. */
    tryCut: () => {
      if (!('cutter' in cutter)) return;
      setTrouble(null);
      setTrying(true);
      setSteps((before) => [...before, { piece: chosen?.path ?? '', cutter: cutter.cutter }]);
    },
    takeBack: () => {
      setTrouble(null);
      setSteps((before) => before.slice(0, -1));
      setPiece(null);
      setDraft(freshDraft(draft.kind, draft.on, nextBox));
    },
  };
}
