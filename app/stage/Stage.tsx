import { useMemo, useRef, useState } from 'react';
import type { Point } from '#core/geometry/shape/cut';
import { useView } from '../ui/address/useView';
import { plural } from '../ui/format';
import { usePageCommands } from '../ui/frame/page-commands';
import { RowMenu } from '../ui/ledger/RowMenu';
import { useMeasures } from '../ui/measures/useMeasures';
import { saveFile } from '../ui/save-file';
import type { Colouring } from './colouring';
import { readPose } from './pose-address';
import classes from './Stage.module.css';
import { StageBars } from './StageBars';
import { type KeptViewNames, StageControls, type StageSwitches } from './StageControls';
import { stageCommands } from './stage-commands';
import type { StageTool } from './stage-tool';
import type { StageView } from './stage-view';
import { picturesInWords, stageInWords } from './stage-words';
import type { Pose, StageTwins } from './twins';
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
import { useShown } from './useShown';
import { useStageView } from './useStageView';

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
  /** Ways to colour rows that somebody can choose from. */
  colourings?: readonly Colouring[];
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
  /** Views that are kept under names: goes to one of them, and opens what keeps another. */
  kept?: KeptViewNames & { onOpen(pose: Pose): void };
  children?: React.ReactNode;
}

const NONE: ReadonlySet<number> = new Set();
const NO_POSES: ReadonlyMap<number, readonly number[]> = new Map();
const NO_COMMANDS: readonly never[] = [];
const NO_COLOURINGS: readonly Colouring[] = [];
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
  colourings = NO_COLOURINGS,
  spreads = false,
  tool = null,
  lookFrom = null,
  colours: given = NO_COLOURS,
  poses = NO_POSES,
  twins,
  section: shared,
  isBare = false,
  title,
  kept,
  children,
}: StageProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const layer = useRef<HTMLDivElement>(null);
  const own = useSection(shared === undefined);
  const [section, setSection] = shared ?? own;
  const [isPickingFace, setPickingFace] = useState(false);
  const [notFlat, setNotFlat] = useState(false);
  const [switches, setSwitches] = useState({
    edges: true,
    seeThrough: false,
    pullApart: spreads,
    measuring: false,
  });
  const [address, changeAddress] = useView();
  const colouredBy = address.get('colours');
  const eye = address.get('eye');
  const pose = useMemo(() => readPose(eye), [eye]);
  const measuring = useMeasuring(switches.measuring);
  const [spread, setSpread] = useState(0);
  const [isShifting, setShifting] = useState(false);

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

  const { view, trouble, loading, hover, shift, setShift, lookedFrom } = useStageView(canvas, layer, {
    pick,
    onName,
    openMenu,
  });
  const colouring = colourings.find(({ key }) => key === colouredBy) ?? null;
  const coloured = useMemo(() => colouring?.find() ?? null, [colouring]);
  const colours = coloured?.colours ?? given;
  useShown(view, {
    scene,
    sceneKey,
    selected,
    hidden,
    fitRequest,
    labels,
    colours,
    poses,
    tool: switches.measuring ? measuring.tool : tool,
    lookFrom,
    pose: twins ? null : pose,
    section,
    twins,
    switches,
    spread,
    isShifting,
    setShift,
  });

  const measures = useMeasures();
  const turnSwitch = (name: keyof StageSwitches, on: boolean) => {
    if (name !== 'section') return setSwitches({ ...switches, [name]: on });
    setSection(on ? (view?.sectionTowardsEye('y') ?? null) : null);
    setPickingFace(false);
  };
  const status = useMemo(() => picturesInWords(scene, loading.failed), [scene, loading.failed]);
  usePageCommands(isBare ? NO_COMMANDS : stageCommands(view, { section, switches, turnSwitch }));
  const words = useMemo(
    () => stageInWords(scene, selected, hidden, section, measures),
    [scene, selected, hidden, section, measures],
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
        aria-description="Drag or the arrow keys turn it, plus and minus go nearer and away, 0 fits all, 1 to 7 look from the corner, the front, the back, the left, the right, the top and below, Enter picks what is in the middle; the right button moves it."
        onKeyDown={onKeyDown}
        onDoubleClick={({ nativeEvent }) => view?.goToUnder(nativeEvent)}
      />
      {!isBare && lookedFrom !== '' && <p className={classes.from}>{lookedFrom}</p>}
      <span className={classes.middle} aria-hidden />
      <div ref={layer} className={classes.labels} />
      <div className={classes.top}>
        {!isBare && (
          <StageControls
            switches={{ ...switches, section: section !== null }}
            colourings={colourings}
            colouredBy={colouredBy}
            onColourBy={(key) => changeAddress({ colours: key })}
            hasSelection={selected.size > 0}
            onSwitch={turnSwitch}
            onFit={() => view?.fit()}
            onFitSelected={() => view?.fit(selected)}
            onLook={(direction) => view?.look(direction)}
            onLookBack={() => view?.lookBack()}
            kept={kept && { ...kept, onOpen: () => view && kept.onOpen(view.eye.pose) }}
            onPicture={(size) => void view?.snapshot(size).then((picture) => saveFile('model.png', picture))}
          />
        )}
        <StageBars
          view={view}
          section={isBare ? null : section}
          onSection={setSection}
          pickingFace={{ isOn: isPickingFace, set: setPickingFace, notFlat }}
          pulling={
            switches.pullApart ? { spread, setSpread, isShifting, setShifting, shift, setShift } : null
          }
          hasSelection={selected.size > 0}
          legend={colouring && coloured && { title: colouring.title, lines: coloured.legend }}
          measuring={switches.measuring ? measuring : null}
        />
      </div>
      <div className={classes.status} role="status">
        {trouble ??
          (loading.left > 0
            ? `Fetching ${plural(loading.left, 'body', 'bodies')}…`
            : (loading.why ?? hover?.name ?? status))}
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
  ...Object.fromEntries(
    DIRECTIONS.map((direction, n) => [String(n + 1), (view: StageView) => view.look(direction)]),
  ),
};
