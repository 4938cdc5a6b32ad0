import { Button } from '@mantine/core';
import { SegmentedControl } from '../../ui/options';
import classes from './HandPanel.module.css';
import type { useByHand } from './useByHand';

interface HandPanelProps {
  hand: ReturnType<typeof useByHand>;
  /** Whether what is held can be turned and laid: several go their ways together only when they are shifted. */
  isOne: boolean;
}

/** What the pointer does on the model with what is placed, and how far it has gone. */
export function HandPanel({ hand: { way, setWay, words, turnOver }, isOne }: HandPanelProps) {
  return (
    <div className={classes.hand}>
      <SegmentedControl
        aria-label="By hand"
        size="xs"
        data={[
          { value: 'none', label: 'Choose' },
          { value: 'shift', label: 'Shift' },
          { value: 'turn', label: 'Turn', disabled: !isOne },
          { value: 'lay', label: 'Lay on a face', disabled: !isOne },
        ]}
        value={way}
        onChange={(value) => setWay(value as typeof way)}
      />
      <p role="status" className={classes.words}>
        {words}
      </p>
      {turnOver && (
        <Button variant="default" size="compact-sm" onClick={turnOver}>
          Turn over
        </Button>
      )}
    </div>
  );
}
