import { Switch } from '@mantine/core';
import type { StructureView } from '#server/views/structure/structure-view';
import { useView } from '../../ui/address/useView';
import { count } from '../../ui/format';
import { FilterInput } from '../../ui/ledger/FilterInput';
import { Select } from '../../ui/options';
import { SHOWN_WORDS } from './columns';
import classes from './Structure.module.css';

interface StructureBarProps extends Pick<StructureView, 'roots' | 'occurrences' | 'distinctParts'> {
  root: string;
  query: string;
  setQuery: (query: string) => void;
}

/** Which assembly is shown, whether its placings stand one by one, and the filter. */
export function StructureBar({
  root,
  roots,
  occurrences,
  distinctParts,
  query,
  setQuery,
}: StructureBarProps) {
  const [view, change] = useView();
  return (
    <div className={classes.bar}>
      {roots.length > 1 ? (
        <Select
          aria-label="Assembly"
          data={roots}
          value={root}
          onChange={(value) =>
            change({
              root: value,
              within: null,
              sel: null,
              also: null,
              closed: null,
              unfold: null,
              hidden: null,
              eye: null,
            })
          }
          allowDeselect={false}
          className={classes.root}
        />
      ) : (
        <span className={classes.summary}>
          <b>{count(occurrences)}</b> occurrences of <b>{count(distinctParts)}</b> distinct parts
        </span>
      )}
      <span className={classes.space} />
      <Switch
        label="One by one"
        checked={view.has('single')}
        onChange={(event) =>
          change({
            single: event.currentTarget.checked ? '1' : null,
            sel: null,
            closed: null,
            unfold: null,
            hidden: null,
          })
        }
      />
      <FilterInput value={query} onChange={setQuery} words={SHOWN_WORDS} />
    </div>
  );
}
