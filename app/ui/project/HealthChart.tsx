import { Area, AreaChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { TICK, TOOLTIP } from '../chart-look';
import { useMeasures } from '../measures/useMeasures';

interface HealthChartProps {
  points: readonly { time: number; broken: number; behind: number; all: number }[];
  /** Without axes, for a row among others. */
  isSmall: boolean;
}

/** Broken links, and those behind, after each change; what it says in words stands below it. */
export function HealthChart({ points, isSmall }: HealthChartProps) {
  const { time } = useMeasures();
  // The newest state lasts as the others did.
  const lasting = [...points, ...points.slice(-1)];
  return (
    <div aria-hidden>
      <ResponsiveContainer width="100%" height={isSmall ? 34 : 92}>
        <AreaChart
          data={lasting.map((point, n) => ({ ...point, n }))}
          margin={{ top: 4, right: 8, bottom: 0, left: isSmall ? 0 : -24 }}
          accessibilityLayer={false}
        >
          <XAxis
            dataKey="n"
            hide={isSmall}
            tick={TICK}
            stroke="var(--st-line)"
            tickFormatter={() => ''}
            height={8}
          />
          <YAxis allowDecimals={false} hide={isSmall} tick={TICK} stroke="var(--st-line)" width={52} />
          <Tooltip
            labelFormatter={(_, [first]) => (first ? time(new Date(first.payload.time).toISOString()) : '')}
            contentStyle={TOOLTIP}
          />
          <Area
            type="stepAfter"
            stackId="links"
            dataKey="broken"
            name="broken"
            stroke="var(--st-missing)"
            fill="var(--st-missing-soft)"
            isAnimationActive={false}
          />
          <Area
            type="stepAfter"
            stackId="links"
            dataKey="behind"
            name="behind"
            stroke="var(--st-behind)"
            strokeDasharray="4 2"
            fill="none"
            isAnimationActive={false}
          />
        </AreaChart>
      </ResponsiveContainer>
    </div>
  );
}
