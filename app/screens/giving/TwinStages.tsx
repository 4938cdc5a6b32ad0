import { type ComponentProps, useMemo } from 'react';
import type { SceneData } from '#core/geometry/scene';
import { Stage } from '../../stage/Stage';
import { StageTwins } from '../../stage/twins';
import { useSection } from '../../stage/useSection';
import classes from './giving.module.css';

type StageProps = ComponentProps<typeof Stage>;

interface Side {
  title: string;
  scene: SceneData;
  tool?: StageProps['tool'];
}

interface TwinStagesProps {
  sceneKey: string;
  before: Side;
  after: Side;
  /** Whether what is shown after belongs to other choices. */
  isStale: boolean;
  selected?: StageProps['selected'];
  onPick?: StageProps['onPick'];
  /** Across both, below. */
  children: React.ReactNode;
}

/** What there is and what becomes of it: two stages that turn together, cut by one section. */
export function TwinStages({ sceneKey, before, after, isStale, children, ...both }: TwinStagesProps) {
  const twins = useMemo(() => new StageTwins(), []);
  const section = useSection();
  return (
    <div className={classes.both}>
      {[before, after].map((side) => (
        <div key={side.title} className={classes.one} data-stale={(side === after && isStale) || undefined}>
          <Stage
            {...side}
            {...both}
            sceneKey={sceneKey}
            twins={twins}
            section={section}
            isBare={side === after}
          >
            <span className={classes.side}>{side.title}</span>
          </Stage>
        </div>
      ))}
      {children}
    </div>
  );
}
