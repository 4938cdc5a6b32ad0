import { Button, NumberInput, SegmentedControl, Slider } from '@mantine/core';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { Point } from '#core/shape/cut';
import { plural } from '../ui/format';
import classes from './Stage.module.css';
import type { StageTool } from './stage-tool';
import type { StageView } from './stage-view';
import type { Direction, SectionPlane, StageFacePick, StageLabel, StagePick, StageScene } from './types';

interface StageProps {
  scene: StageScene;
  /** Changes when another model is shown: the view then starts anew. */
  sceneKey: string;
  selected?: ReadonlySet<number>;
  hidden?: ReadonlySet<number>;
  onPick?: (pick: StagePick | StageFacePick | null) => void;
  /** Increased to move near the selected rows. */
  fitRequest?: number;
  labels?: readonly StageLabel[];
  onName?: (row: number, name: string) => void;
  /** Offers to pull the bodies apart. */
  spreads?: boolean;
  /** What draws or picks beside the model. */
  tool?: StageTool | null;
  /** A direction to look from, when it changes. */
  lookFrom?: Point | null;
  children?: React.ReactNode;
}

const DIRECTIONS: [Direction, string][] = [
  ['corner', 'Corner'],
  ['front', 'Front'],
  ['right', 'Right'],
  ['top', 'Top'],
];

const NONE: ReadonlySet<number> = new Set();

/** The 3D view with its controls. three.js is fetched in the browser only. */
export function Stage({
  scene,
  sceneKey,
  selected = NONE,
  hidden = NONE,
  onPick,
  fitRequest = 0,
  labels,
  onName,
  spreads = false,
  tool = null,
  lookFrom = null,
  children,
}: StageProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [view, setView] = useState<StageView | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [loading, setLoading] = useState({ left: 0, failed: 0 });
  const [hover, setHover] = useState<StagePick | null>(null);
  const [edges, setEdges] = useState(true);
  const [section, setSection] = useState<SectionPlane | null>(null);
  const picked = useRef(onPick);
  picked.current = onPick;
  const named = useRef(onName);
  named.current = onName;
  const layer = useRef<HTMLDivElement>(null);
  const [spread, setSpread] = useState(0);
  const [shifting, setShifting] = useState(false);
  const [shift, setShift] = useState<Point>([0, 0, 0]);

  useEffect(() => {
    let made: StageView | undefined;
    let gone = false;
    void import('./stage-view').then(({ StageView: View }) => {
      if (gone || !canvas.current || !layer.current) return;
      try {
        const callbacks = {
          onPick: (pick: StagePick | StageFacePick | null) => picked.current?.(pick),
          onShift: setShift,
          onHover: setHover,
          onLoading: (left: number, failed: number) => setLoading({ left, failed }),
          onName: (row: number, name: string) => named.current?.(row, name),
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
  useEffect(() => view?.setHidden(hidden), [view, hidden]);
  useEffect(() => view?.setEdges(edges), [view, edges]);
  useEffect(() => view?.setLabels(labels ?? []), [view, labels]);
  useEffect(() => view?.setSpread(spread), [view, spread]);
  useEffect(() => {
    view?.setShifting(shifting);
    if (view) setShift(view.shiftOfSelected);
  }, [view, shifting]);
  useEffect(() => view?.setTool(tool), [view, tool]);
  useEffect(() => {
    if (lookFrom) view?.lookAlong(lookFrom);
  }, [view, lookFrom]);
  useEffect(() => view?.setSection(section), [view, section]);
  const asked = useRef(fitRequest);
  useEffect(() => {
    if (!view || fitRequest === asked.current) return;
    asked.current = fitRequest;
    view.fit(selected.size > 0 ? selected : undefined);
  }, [view, fitRequest, selected]);

  const waiting = useMemo(() => scene.bodies.filter(({ url }) => url === null).length, [scene]);
  return (
    <section className={classes.stage} aria-label="3D view">
      <canvas
        ref={canvas}
        className={classes.canvas}
        data-testid="stage"
        data-left={loading.left}
        aria-label="The model. Drag turns it, the right button moves it, the wheel goes nearer."
      />
      <div ref={layer} className={classes.labels} />
      <div className={classes.controls} role="toolbar" aria-label="View">
        <Button.Group>
          <Button variant="default" onClick={() => view?.fit()}>
            Fit all
          </Button>
          {DIRECTIONS.map(([direction, word]) => (
            <Button key={direction} variant="default" onClick={() => view?.look(direction)}>
              {word}
            </Button>
          ))}
        </Button.Group>
        <Button variant={edges ? 'light' : 'default'} aria-pressed={edges} onClick={() => setEdges(!edges)}>
          Edges
        </Button>
        <Button
          variant={section ? 'light' : 'default'}
          aria-pressed={section !== null}
          onClick={() => setSection(section ? null : (view?.sectionTowardsEye('y') ?? null))}
        >
          Section
        </Button>
      </div>
      {section && (
        <div className={classes.section}>
          <SegmentedControl
            data={['x', 'y', 'z']}
            value={section.axis}
            onChange={(axis) => setSection(view?.sectionTowardsEye(axis as SectionPlane['axis']) ?? null)}
            aria-label="Across which axis"
          />
          <Slider
            className={classes.slider}
            min={0}
            max={1}
            step={0.005}
            label={(value) => `${Math.round(value * 100)} %`}
            value={section.at}
            onChange={(at) => setSection({ ...section, at })}
            thumbLabel="Where the section lies"
          />
          <Button variant="default" onClick={() => setSection({ ...section, flipped: !section.flipped })}>
            Other side
          </Button>
        </div>
      )}
      {spreads && (
        <div className={classes.spread}>
          <span>Pull apart</span>
          <Slider
            className={classes.slider}
            min={0}
            max={1}
            step={0.01}
            label={(value) => `${Math.round(value * 100)} %`}
            value={spread}
            onChange={setSpread}
            thumbLabel="How far the bodies are pulled apart"
          />
          <Button
            variant={shifting ? 'light' : 'subtle'}
            aria-pressed={shifting}
            onClick={() => setShifting(!shifting)}
          >
            Shift
          </Button>
          {shifting && selected.size === 0 && <span className="muted">Select what to shift.</span>}
          {shifting &&
            selected.size > 0 &&
            (['x', 'y', 'z'] as const).map((axis, n) => (
              <NumberInput
                key={axis}
                className={classes.shift}
                aria-label={`Shift along ${axis}, mm`}
                leftSection={axis}
                hideControls
                decimalScale={1}
                value={Math.round(shift[n]! * 10) / 10}
                onChange={(value) => {
                  const by = shift.map((old, at) =>
                    at === n ? Number(value) || 0 : old,
                  ) as unknown as Point;
                  setShift(by);
                  view?.shiftSelected(by);
                }}
              />
            ))}
          {shifting && (
            <Button
              variant="subtle"
              onClick={() => {
                view?.putBack();
                setShift([0, 0, 0]);
              }}
            >
              Put all back
            </Button>
          )}
        </div>
      )}
      <div className={classes.status} role="status">
        {trouble ??
          (loading.left > 0
            ? `Fetching ${plural(loading.left, 'body', 'bodies')}…`
            : waiting > 0
              ? `${plural(waiting, 'body is', 'bodies are')} still being prepared`
              : loading.failed > 0
                ? `${plural(loading.failed, 'body has', 'bodies have')} no picture; the files say why`
                : (hover?.name ?? ''))}
      </div>
      {children}
    </section>
  );
}
