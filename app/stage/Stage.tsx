import { useEffect, useMemo, useRef, useState } from 'react';
import type { Point } from '#core/geometry/shape/cut';
import { plural } from '../ui/format';
import { usePageCommands } from '../ui/page-commands';
import { RowMenu } from '../ui/RowMenu';
import { MeasurePanel } from './MeasurePanel';
import { PullApartBar } from './PullApartBar';
import { SectionBar } from './SectionBar';
import classes from './Stage.module.css';
import { StageControls, type StageSwitches } from './StageControls';
import type { Axis } from './section-address';
import type { StageTool } from './stage-tool';
import type { StageView } from './stage-view';
import { picturesInWords, stageInWords } from './stage-words';
import type { StageTwins } from './twins';
import {
  DIRECTIONS,
  type SectionPlane,
  type StageFacePick,
  type StageLabel,
  type StagePick,
  type StageScene,
} from './types';
import { useMeasuring } from './useMeasuring';
import { useSection } from './useSection';

interface StageProps {
  scene: StageScene;
  /** Changes when another model is shown: the view then starts anew. */
  sceneKey: string;
  selected?: ReadonlySet<number>;
  hidden?: ReadonlySet<number>;
  /** @param isAdded to what is selected: Ctrl or Shift was held down */
  onPick?: (pick: StagePick | StageFacePick | null, isAdded: boolean) => void;
  /** What can be done with what is selected, as entries of a menu: by the right button or the menu key. */
  menu?: () => React.ReactNode;
  /** Increased to move near the selected rows. */
  fitRequest?: number;
  labels?: readonly StageLabel[];
  onName?: (row: number, name: string) => void;
  /** Colours of rows by the state of their links, and what each says. */
  linkStates?: { colours: ReadonlyMap<number, string>; legend: readonly [words: string, colour: string][] };
  /** Has the bar for pulling bodies apart open from the start. */
  spreads?: boolean;
  /** What draws or picks beside the model. */
  tool?: StageTool | null;
  /** Colours of rows that are not their own. */
  colours?: ReadonlyMap<number, string>;
  /** How rows have moved from where they belong, row-major. */
  poses?: ReadonlyMap<number, readonly number[]>;
  /** Stages that turn together with this one. */
  twins?: StageTwins;
  /** Where the model is cut open, and who is told of another plane: of stages that share one. */
  section?: readonly [SectionPlane | null, (section: SectionPlane | null) => void];
  /** Without controls: those of its twin do for it. */
  isBare?: boolean;
  /** What it shows, before what else its description says: "Before". */
  title?: string;
  /** A direction to look from, when it changes. */
  lookFrom?: Point | null;
  children?: React.ReactNode;
}

const NONE: ReadonlySet<number> = new Set();
const NO_POSES: ReadonlyMap<number, readonly number[]> = new Map();
const NO_COMMANDS: readonly never[] = [];
const NO_COLOURS: ReadonlyMap<number, string> = new Map();

/** The 3D view with its controls. three.js is fetched in the browser only. */
export function Stage({
  scene,
  sceneKey,
  selected = NONE,
  hidden = NONE,
  onPick,
  menu,
  fitRequest = 0,
  labels,
  onName,
  linkStates,
  spreads = false,
  tool = null,
  lookFrom = null,
  colours: given = NO_COLOURS,
  poses = NO_POSES,
  twins,
  section: shared,
  isBare = false,
  title,
  children,
}: StageProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const layer = useRef<HTMLDivElement>(null);
  const [view, setView] = useState<StageView | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [loading, setLoading] = useState({ left: 0, failed: 0 });
  const [hover, setHover] = useState<StagePick | null>(null);
  const own = useSection(shared === undefined);
  const [section, setSection] = shared ?? own;
  const [isPickingFace, setPickingFace] = useState(false);
  const [notFlat, setNotFlat] = useState(false);
  const [switches, setSwitches] = useState({
    edges: true,
    seeThrough: false,
    linkStates: false,
    pullApart: spreads,
    measuring: false,
  });
  const measuring = useMeasuring(switches.measuring);
  const [spread, setSpread] = useState(0);
  const [isShifting, setShifting] = useState(false);
  const [shift, setShift] = useState<Point>([0, 0, 0]);

  const [menuAt, setMenuAt] = useState<[x: number, y: number] | null>(null);
  const pick = (picked: StagePick | StageFacePick | null, isAdded: boolean) => {
    if (!isPickingFace) {
      onPick?.(picked, isAdded);
      return;
    }
    if (!picked || !('normal' in picked)) return;
    setNotFlat(!picked.isFlat);
    if (!picked.isFlat) return;
    const { normal, point } = picked;
    setSection({ normal, at: normal.reduce((sum, value, n) => sum + value * point[n]!, 0) });
    setPickingFace(false);
  };
  const openMenu = (picked: StagePick | null, at: [x: number, y: number]) => {
    if (!menu || !picked) return;
    if (!selected.has(picked.row)) onPick?.(picked, false);
    setMenuAt(at);
  };
  const told = useRef({ pick, onName, openMenu });
  told.current = { pick, onName, openMenu };

  useEffect(() => {
    let made: StageView | undefined;
    let gone = false;
    void import('./stage-view').then(({ StageView: View }) => {
      if (gone || !canvas.current || !layer.current) return;
      try {
        const callbacks = {
          onPick: (picked: StagePick | StageFacePick | null, isAdded: boolean) =>
            told.current.pick(picked, isAdded),
          onMenu: (picked: StagePick | null, at: [x: number, y: number]) => told.current.openMenu(picked, at),
          onShift: setShift,
          onHover: setHover,
          onLoading: (left: number, failed: number) => setLoading({ left, failed }),
          onName: (row: number, name: string) => told.current.onName?.(row, name),
        };
        made = new View(canvas.current, callbacks, layer.current);
        setView(made);
      } catch {
        setTrouble(
          'This browser cannot draw in 3D: WebGL is switched off or missing. The table works without it.',
        );
      }
    });
    return () => {
      gone = true;
      made?.dispose();
      setView(null);
    };
  }, []);

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
  }, [view, selected]);
  useEffect(() => view?.setEdges(switches.edges), [view, switches.edges]);
  useEffect(() => view?.setSeeThrough(switches.seeThrough), [view, switches.seeThrough]);
  const colours = (switches.linkStates && linkStates?.colours) || given;
  useEffect(() => view?.setColours(colours), [view, colours]);
  useEffect(() => view?.setLabels(labels ?? []), [view, labels]);
  useEffect(() => view?.setSpread(switches.pullApart ? spread : 0), [view, spread, switches.pullApart]);
  useEffect(() => {
    view?.setShifting(switches.pullApart && isShifting);
    if (view) setShift(view.shiftOfSelected);
  }, [view, isShifting, switches.pullApart]);
  const current = switches.measuring ? measuring.tool : tool;
  useEffect(() => view?.setTool(current), [view, current]);
  useEffect(() => {
    if (lookFrom) view?.lookAlong(lookFrom);
  }, [view, lookFrom]);
  useEffect(() => view?.setSection(section), [view, section]);
  useEffect(() => view?.setPoses(poses), [view, poses]);
  useEffect(() => (view && twins ? view.turnWith(twins) : undefined), [view, twins]);
  const asked = useRef(fitRequest);
  useEffect(() => {
    if (!view || fitRequest === asked.current) return;
    asked.current = fitRequest;
    view.fit(selected.size > 0 ? selected : undefined);
  }, [view, fitRequest, selected]);

  const turnSwitch = (name: keyof StageSwitches, on: boolean) => {
    if (name !== 'section') return setSwitches({ ...switches, [name]: on });
    setSection(on ? (view?.sectionTowardsEye('y') ?? null) : null);
    setPickingFace(false);
  };
  const status = useMemo(() => picturesInWords(scene, loading.failed), [scene, loading.failed]);
  usePageCommands(
    isBare
      ? NO_COMMANDS
      : [
          { label: 'Fit all', description: 'On the model', run: () => view?.fit() },
          ...DIRECTIONS.map((direction) => ({
            label: `Look from: ${direction}`,
            description: 'On the model',
            isMinor: true,
            run: () => view?.look(direction),
          })),
          { label: 'Previous view', description: 'On the model', run: () => view?.lookBack() },
          {
            label: section ? 'Close the section' : 'Section',
            description: 'Cut the model open across an axis or along a face',
            run: () => turnSwitch('section', section === null),
          },
          {
            label: switches.measuring ? 'Stop measuring' : 'Measure',
            description: 'Distances, angles, radii on the model',
            run: () => turnSwitch('measuring', !switches.measuring),
          },
          {
            label: switches.seeThrough ? 'Show the rest as it is' : 'Show the rest faintly',
            description: 'What is selected stands out on the model',
            run: () => turnSwitch('seeThrough', !switches.seeThrough),
          },
        ],
  );
  const words = useMemo(
    () => stageInWords(scene, selected, hidden, section),
    [scene, selected, hidden, section],
  );

  const onKeyDown = (event: React.KeyboardEvent) => {
    if (!view || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === 'ContextMenu' || (event.key === 'F10' && event.shiftKey)) {
      const { left, top, width, height } = event.currentTarget.getBoundingClientRect();
      if (menu && selected.size > 0) setMenuAt([left + width / 2, top + height / 2]);
      event.preventDefault();
      return;
    }
    const key = KEYS[event.key];
    if (!key) return;
    key(view);
    event.preventDefault();
  };

  return (
    <section className={classes.stage} aria-label={title ? `3D view: ${title}` : '3D view'}>
      <canvas
        ref={canvas}
        className={classes.canvas}
        data-testid="stage"
        data-left={loading.left}
        role="img"
        tabIndex={0}
        aria-label={title ? `${title}: ${words}` : words}
        aria-description="Drag or the arrow keys turn it, plus and minus go nearer and away, 0 fits all, Enter picks what is in the middle; the right button moves it."
        onKeyDown={onKeyDown}
      />
      <span className={classes.middle} aria-hidden />
      <div ref={layer} className={classes.labels} />
      <div className={classes.top}>
        {!isBare && (
          <StageControls
            switches={{ ...switches, section: section !== null }}
            hasLinkStates={linkStates !== undefined}
            hasSelection={selected.size > 0}
            onSwitch={turnSwitch}
            onFit={() => view?.fit()}
            onFitSelected={() => view?.fit(selected)}
            onLook={(direction) => view?.look(direction)}
            onLookBack={() => view?.lookBack()}
          />
        )}
        {section && !isBare && (
          <SectionBar
            section={section}
            reach={view?.reachAlong(section.normal) ?? [section.at, section.at]}
            isPicking={isPickingFace}
            onAxis={(axis: Axis) => {
              setPickingFace(false);
              setSection(view?.sectionTowardsEye(axis) ?? null);
            }}
            onPickFace={() => setPickingFace(true)}
            onChange={setSection}
          />
        )}
        {isPickingFace && notFlat && (
          <p className={classes.bar} role="alert">
            That face is not flat.
          </p>
        )}
        {switches.pullApart && (
          <PullApartBar
            spread={spread}
            onSpread={setSpread}
            isShifting={isShifting}
            onShifting={setShifting}
            hasSelection={selected.size > 0}
            shift={shift}
            onShift={(by) => {
              setShift(by);
              view?.shiftSelected(by);
            }}
            onPutBack={() => {
              view?.putBack();
              setShift([0, 0, 0]);
            }}
          />
        )}
        {switches.linkStates && linkStates && (
          <ul className={classes.legend} aria-label="Link states">
            {linkStates.legend.map(([state, colour]) => (
              <li key={state}>
                <span style={{ background: colour }} aria-hidden /> {state}
              </li>
            ))}
          </ul>
        )}
        {switches.measuring && (
          <MeasurePanel
            things={measuring.things}
            trouble={measuring.trouble}
            onStartAgain={() => measuring.tool?.startAgain()}
          />
        )}
      </div>
      <div className={classes.status} role="status">
        {trouble ??
          (loading.left > 0
            ? `Fetching ${plural(loading.left, 'body', 'bodies')}…`
            : (hover?.name ?? status))}
      </div>
      {children}
      {menu && menuAt && (
        <RowMenu at={menuAt} onClose={() => setMenuAt(null)}>
          {menu()}
        </RowMenu>
      )}
    </section>
  );
}

/** Degrees of one press. */
const TURN = 10;
const KEYS: { [key: string]: (view: StageView) => void } = {
  ArrowLeft: (view) => view.turn(-TURN, 0),
  ArrowRight: (view) => view.turn(TURN, 0),
  ArrowUp: (view) => view.turn(0, TURN),
  ArrowDown: (view) => view.turn(0, -TURN),
  '+': (view) => view.turn(0, 0, 0.8),
  '-': (view) => view.turn(0, 0, 1.25),
  '0': (view) => view.fit(),
  Enter: (view) => view.clickMiddle(),
};
