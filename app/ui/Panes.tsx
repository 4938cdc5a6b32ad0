import { Splitter } from '@mantine/core';
import { useLocalStorage, useMediaQuery } from '@mantine/hooks';
import { useState } from 'react';
import { SegmentedControl } from './options';
import classes from './Panes.module.css';
import { SMALL } from './small';

interface PanesProps {
  /** What the page is, for remembering where its bar stands. */
  name: string;
  /** Percent of the width that the left pane has until somebody drags the bar. */
  share: number;
  left: React.ReactNode;
  right: React.ReactNode;
  /** What the panes are called where there is room for one of them only. */
  titles?: readonly [left: string, right: string];
}

/** Percent: neither pane is dragged away. */
const LEAST = 25;
/** Percent: where the page is narrow, the model keeps half of it. */
const MOST_WHEN_NARROW = 50;

/** Two panes with a bar between them that stays where it is dragged; on a small page one of them at a time. */
export function Panes({ name, share, left, right, titles = ['Table', 'Model'] }: PanesProps) {
  const isNarrow = useMediaQuery('(max-width: 1000px)') ?? false;
  const isSmall = useMediaQuery(SMALL) ?? false;
  const [kept, setKept] = useLocalStorage<number | null>({
    key: `stonetray panes ${name}`,
    defaultValue: null,
  });
  const [shown, setShown] = useState<string>(titles[0]);
  if (isSmall)
    return (
      <div className={classes.one}>
        <SegmentedControl
          className={classes.choice}
          aria-label="What is shown"
          data={[...titles]}
          value={shown}
          onChange={setShown}
        />
        <div className={classes.pane} data-away={shown !== titles[0] || undefined}>
          {left}
        </div>
        <div className={classes.pane} data-away={shown === titles[0] || undefined}>
          {right}
        </div>
      </div>
    );
  const made = isNarrow ? Math.min(share, MOST_WHEN_NARROW) : share;
  const now = kept ?? made;
  return (
    <Splitter
      className={classes.two}
      classNames={{ handle: classes.handle }}
      sizes={[now, 100 - now]}
      onSizeChange={([first]) => setKept(Number.parseFloat(String(first)))}
      // A double click on the bar puts it back.
      onDoubleClick={({ target }) => (target as HTMLElement).closest('[role="separator"]') && setKept(null)}
      resetOnDoubleClick={false}
      withHandle={false}
      lineSize={1}
      handleColor="var(--st-line)"
    >
      <Splitter.Pane className={classes.pane} defaultSize={made} min={LEAST}>
        {left}
      </Splitter.Pane>
      <Splitter.Pane className={classes.pane} defaultSize={100 - made} min={LEAST}>
        {right}
      </Splitter.Pane>
    </Splitter>
  );
}
