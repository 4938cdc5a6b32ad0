import { useEffect, useRef } from 'react';
import type { Point } from '#core/geometry/shape/cut';
import type { StageSwitches } from './StageControls';
import type { StageTool } from './stage-tool';
import type { StageView } from './stage-view';
import type { Pose, StageTwins } from './twins';
import type { SectionPlane, StageLabel, StageScene } from './types';

/** What the view shall show. */
interface Shown {
  scene: StageScene;
  sceneKey: string;
  selected: ReadonlySet<number>;
  hidden: ReadonlySet<number>;
  fitRequest: number;
  labels: readonly StageLabel[] | undefined;
  colours: ReadonlyMap<number, string>;
  poses: ReadonlyMap<number, readonly number[]>;
  tool: StageTool | null;
  lookFrom: Point | null;
  /** Where one looks from at first, and whenever it is another. */
  pose: Pose | null;
  section: SectionPlane | null;
  twins: StageTwins | undefined;
  switches: Omit<StageSwitches, 'section'>;
  /** How far bodies are pulled apart, and whether they are shifted by hand. */
  spread: number;
  isShifting: boolean;
  setShift: (shift: Point) => void;
}

/** Has the view show what the page says, whenever that is another. */
export function useShown(view: StageView | null, shown: Shown): void {
  const { scene, sceneKey, selected, hidden, fitRequest, labels, colours, poses, tool, lookFrom, pose } =
    shown;
  const { section, twins, switches, spread, isShifting, setShift } = shown;
  // Before the scene: what is hidden does not count for where one looks from.
  useEffect(() => view?.setHidden(hidden), [view, hidden]);
  const shownKey = useRef('');
  useEffect(() => {
    if (!view) return;
    void view.setScene(scene, shownKey.current === sceneKey);
    shownKey.current = sceneKey;
  }, [view, scene, sceneKey]);
  useEffect(() => {
    view?.setSelected(selected);
    if (view) setShift(view.shiftOfSelected);
  }, [view, selected, setShift]);
  useEffect(() => view?.setEdges(switches.edges), [view, switches.edges]);
  useEffect(() => view?.setSeeThrough(switches.seeThrough), [view, switches.seeThrough]);
  useEffect(() => view?.setColours(colours), [view, colours]);
  useEffect(() => view?.setLabels(labels ?? []), [view, labels]);
  useEffect(() => view?.setSpread(switches.pullApart ? spread : 0), [view, spread, switches.pullApart]);
  useEffect(() => {
    view?.setShifting(switches.pullApart && isShifting);
    if (view) setShift(view.shiftOfSelected);
  }, [view, isShifting, switches.pullApart, setShift]);
  useEffect(() => view?.setTool(tool), [view, tool]);
  useEffect(() => {
    if (lookFrom) view?.lookAlong(lookFrom);
  }, [view, lookFrom]);
  useEffect(() => {
    if (pose) view?.lookAs(pose);
  }, [view, pose]);
  useEffect(() => view?.setSection(section), [view, section]);
  useEffect(() => view?.setPoses(poses), [view, poses]);
  useEffect(() => (view && twins ? view.turnWith(twins) : undefined), [view, twins]);
  const asked = useRef(fitRequest);
  useEffect(() => {
    if (!view || fitRequest === asked.current) return;
    asked.current = fitRequest;
    view.fit(selected.size > 0 ? selected : undefined);
  }, [view, fitRequest, selected]);
}
