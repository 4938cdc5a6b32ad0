import { useMemo } from 'react';
import { Area, AreaChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import type { LiteComponent } from '#core/jobs/lite/view';
import { TICK, TOOLTIP } from '../../ui/chart-look';
import classes from './Lite.module.css';
import { MOST_PERCENT } from './most-percent';

const STEP = 0.25;

/** How many components are below each size: where the curve climbs, a little more leaves out a lot. */
export function SizesChart({
  components,
  threshold,
}: {
  components: readonly LiteComponent[];
  threshold: number;
}) {
  const points = useMemo(() => {
    const sizes = components.map(({ percent }) => percent).sort((a, b) => a - b);
    let below = 0;
    return Array.from({ length: MOST_PERCENT / STEP + 1 }, (_, n) => {
      const percent = n * STEP;
      while (below < sizes.length && sizes[below]! < percent) below++;
      return { percent, below };
    });
  }, [components]);
  return (
    <div className={classes.chart} aria-hidden>
      <ResponsiveContainer width="100%" height={96}>
        <AreaChart
          data={points}
          margin={{ top: 6, right: 8, bottom: 0, left: -18 }}
          accessibilityLayer={false}
        >
          <XAxis
            dataKey="percent"
            type="number"
            domain={[0, MOST_PERCENT]}
            ticks={[0, 3, 6, 9, 12, 15]}
            unit=" %"
            tick={TICK}
            stroke="var(--st-line)"
          />
          <YAxis allowDecimals={false} tick={TICK} stroke="var(--st-line)" width={52} />
          <Tooltip
            formatter={(value) => [`${value} components are smaller`, '']}
            labelFormatter={(percent) => `${percent} %`}
            separator=""
            contentStyle={TOOLTIP}
          />
          <Area
            type="stepAfter"
            dataKey="below"
            stroke="var(--st-accent)"
            fill="var(--st-accent-soft)"
            isAnimationActive={false}
          />
          <ReferenceLine x={Math.min(threshold, MOST_PERCENT)} stroke="var(--st-missing)" strokeWidth={2} />
        </AreaChart>
      </ResponsiveContainer>
    </div>
  );
}
