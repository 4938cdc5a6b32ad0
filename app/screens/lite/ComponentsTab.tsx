import { Button } from '@mantine/core';
import type { LiteComponent } from '#core/jobs/lite/view';
import { Ledger } from '../../ui/ledger/Ledger';
import layout from '../../ui/operation/OperationPage.module.css';
import type { Wish } from './choices';
import { COLUMNS } from './columns';
import classes from './Lite.module.css';

const WISHES = [
  { wish: 'leave out', words: 'Leave out' },
  { wish: 'keep', words: 'Keep in any case' },
  { wish: 'as the steps say', words: 'As the steps say' },
] as const satisfies { wish: Wish; words: string }[];

interface ComponentsTabProps {
  components: LiteComponent[];
  /** Those that are selected. */
  keys: string[];
  onSelect: (keys: string[]) => void;
  onWish: (wish: Wish) => void;
  disabled: boolean;
  empty: string;
}

/** Every component with what becomes of it, and what is wished for those that are selected. */
export function ComponentsTab({ components, keys, onSelect, onWish, disabled, empty }: ComponentsTabProps) {
  return (
    <>
      <div className={classes.tools} role="toolbar" aria-label="Selected components">
        {WISHES.map(({ wish, words }) => (
          <Button
            key={wish}
            variant="default"
            size="compact-sm"
            disabled={keys.length === 0 || disabled}
            onClick={() => onWish(wish)}
          >
            {words}
          </Button>
        ))}
      </div>
      <div className={layout.table}>
        <Ledger
          label="Components"
          columns={COLUMNS}
          rows={components}
          keyOf={({ key }) => key}
          selected={keys.at(-1) ?? null}
          onSelect={({ key }) => onSelect([key])}
          several={{ keys, onSelect }}
          dimmed={({ reason }) => reason !== null}
          isMain
          empty={empty}
        />
      </div>
    </>
  );
}
