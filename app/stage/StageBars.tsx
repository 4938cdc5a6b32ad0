import { Suspense } from 'react';
import type { Point } from '#core/geometry/shape/cut';
import { later } from '../ui/later';
import type { Coloured } from './colouring';
import classes from './Stage.module.css';
import type { Axis } from './section-address';
import type { StageView } from './stage-view';
import type { SectionPlane } from './types';
import type { useMeasuring } from './useMeasuring';

// What is shown on demand is fetched then.
const SectionBar = later(async () => (await import('./SectionBar')).SectionBar);
const MeasurePanel = later(async () => (await import('./MeasurePanel')).MeasurePanel);
const PullApartBar = later(async () => (await import('./PullApartBar')).PullApartBar);

interface StageBarsProps {
  view: StageView | null;
  /** Null for none, and where a twin has the controls. */
  section: SectionPlane | null;
  onSection: (section: SectionPlane | null) => void;
  pickingFace: { isOn: boolean; set: (isOn: boolean) => void; notFlat: boolean };
  /** Null while bodies are not pulled apart. */
  pulling: {
    spread: number;
    setSpread: (spread: number) => void;
    isShifting: boolean;
    setShifting: (isShifting: boolean) => void;
    shift: Point;
    setShift: (shift: Point) => void;
  } | null;
  hasSelection: boolean;
  /** By what the bodies are coloured. */
  legend: { title: string; lines: Coloured['legend'] } | null;
  measuring: ReturnType<typeof useMeasuring> | null;
}

/** What belongs to the switches of a stage that are on. */
export function StageBars({
  view,
  section,
  onSection,
  pickingFace,
  pulling,
  hasSelection,
  legend,
  measuring,
}: StageBarsProps) {
  return (
    <Suspense>
      {section && (
        <SectionBar
          section={section}
          reach={view?.reachAlong(section.normal) ?? [section.at, section.at]}
          isPicking={pickingFace.isOn}
          onAxis={(axis: Axis) => {
            pickingFace.set(false);
            onSection(view?.sectionTowardsEye(axis) ?? null);
          }}
          onPickFace={() => pickingFace.set(true)}
          onChange={onSection}
        />
      )}
      {pickingFace.isOn && pickingFace.notFlat && (
        <p className={classes.bar} role="alert">
          That face is not flat.
        </p>
      )}
      {pulling && (
        <PullApartBar
          spread={pulling.spread}
          onSpread={pulling.setSpread}
          isShifting={pulling.isShifting}
          onShifting={pulling.setShifting}
          hasSelection={hasSelection}
          shift={pulling.shift}
          onShift={(by) => {
            pulling.setShift(by);
            view?.shiftSelected(by);
          }}
          onPutBack={() => {
            view?.putBack();
            pulling.setShift([0, 0, 0]);
          }}
        />
      )}
      {legend && (
        <ul className={classes.legend} aria-label={`Colours by ${legend.title}`}>
          {legend.lines.map(([state, colour]) => (
            <li key={state}>
              <span style={{ background: colour }} aria-hidden /> {state}
            </li>
          ))}
        </ul>
      )}
      {measuring && (
        <MeasurePanel
          things={measuring.things}
          trouble={measuring.trouble}
          onStartAgain={() => measuring.tool?.startAgain()}
        />
      )}
    </Suspense>
  );
}
