import { Button } from '@mantine/core';
import type { useStageSelection } from '../../stage/useStageSelection';
import { plural } from '../../ui/format';
import classes from './Structure.module.css';

/** What can be done with the selected rows on the stage. */
export function SelectionBar({
  selection,
  isEmpty,
}: {
  selection: ReturnType<typeof useStageSelection>;
  /** Nothing is selected. */
  isEmpty: boolean;
}) {
  const { hidden, hiddenCount, isHidden, toggleHidden, showAlone, showAll, goTo } = selection;
  return (
    <div className={classes.actions} role="toolbar" aria-label="Selection">
      <Button.Group>
        <Button variant="default" disabled={isEmpty} onClick={goTo}>
          Go to it
        </Button>
        <Button variant="default" disabled={isEmpty} onClick={toggleHidden}>
          {isHidden ? 'Show' : 'Hide'}
        </Button>
        <Button variant="default" disabled={isEmpty} onClick={showAlone}>
          Show alone
        </Button>
        <Button variant="default" disabled={hiddenCount === 0} onClick={showAll}>
          Show all
        </Button>
      </Button.Group>
      {hidden.size > 0 && <span className={classes.note}>{plural(hidden.size, 'row')} hidden</span>}
    </div>
  );
}
