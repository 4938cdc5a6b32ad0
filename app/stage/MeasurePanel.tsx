import { Button, CopyButton } from '@mantine/core';
import { between, type Figure, figuresOf, nameOf } from '#core/geometry/shape/measure';
import { useMeasures } from '../ui/measures/useMeasures';
import classes from './MeasurePanel.module.css';
import type { MeasuredThing } from './measure-tool';

interface MeasurePanelProps {
  /** Nothing, one thing, or two. */
  things: readonly MeasuredThing[];
  trouble: string | null;
  onStartAgain: () => void;
}

/** What was measured, from the exact shapes. Each figure is copied by a click. */
export function MeasurePanel({ things, trouble, onStartAgain }: MeasurePanelProps) {
  const [one, other] = things;
  const figures = one && other ? between(one.item, other.item) : [];
  return (
    <section className={classes.panel} aria-label="Measuring">
      {things.length === 0 && (
        <p className={classes.hint}>
          Pick a face, an edge or a corner; a second one gives the distance and the angle between both.
        </p>
      )}
      <div aria-live="polite">
        {one && other && (
          <Figures
            title="Between both"
            figures={figures}
            empty="A free-form face or edge has no centre and no direction: pick one of its corners."
          />
        )}
        {things.map(({ of, item }, n) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the first and the second
          <Figures key={n} title={`${nameOf(item)} of ${of}`} figures={figuresOf(item)} />
        ))}
      </div>
      {trouble && <p className={classes.trouble}>{trouble}</p>}
      {things.length > 0 && (
        <Button variant="subtle" size="compact-sm" onClick={onStartAgain}>
          Measure something else
        </Button>
      )}
    </section>
  );
}

function Figures({ title, figures, empty }: { title: string; figures: readonly Figure[]; empty?: string }) {
  const { figure } = useMeasures();
  return (
    <>
      <h3 className={classes.title}>{title}</h3>
      {figures.length === 0 && <p className={classes.hint}>{empty}</p>}
      <dl className={classes.figures}>
        {figures.map(({ words, value, unit }) => (
          <div key={words}>
            <dt>{words}</dt>
            <dd>
              <CopyButton value={figure(value, unit)}>
                {({ copied, copy }) => (
                  <button type="button" className={classes.figure} title="Copy" onClick={copy}>
                    {copied ? 'Copied' : figure(value, unit)}
                  </button>
                )}
              </CopyButton>
            </dd>
          </div>
        ))}
      </dl>
    </>
  );
}
