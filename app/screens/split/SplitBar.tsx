import type { SplitComponentView } from '#core/jobs/split/view';
import { renamed } from '#core/name-pattern';
import { MATERIALS } from '#core/product/materials';
import type { SplitView } from '#server/views/operations/split-view';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { FilterInput } from '../../ui/ledger/FilterInput';
import { Select } from '../../ui/options';
import { RenameMany } from './RenameMany';
import classes from './Split.module.css';

interface SplitBarProps extends Pick<SplitView, 'parts' | 'product' | 'products'> {
  path: string;
  query: string;
  setQuery: (query: string) => void;
  /** Materials of the selected bodies, or of all of them; and giving them another. */
  material: {
    given: ReadonlySet<string | undefined>;
    isSelection: boolean;
    set: (name: string | null) => void;
  };
  toRename: readonly SplitComponentView[];
  isRenamingSelection: boolean;
  onNames: (named: readonly (readonly [SplitComponentView, string])[]) => void;
}

/** Which part is split, and what is given to many of its bodies at once. */
export function SplitBar({
  path,
  parts,
  product,
  products,
  query,
  setQuery,
  material,
  toRename,
  isRenamingSelection,
  onNames,
}: SplitBarProps) {
  const [, change] = useView();
  return (
    <div className={classes.bar} data-wraps={products.length > 1 || undefined}>
      <Select
        aria-label="Part to split"
        className={products.length > 1 ? classes.half : classes.part}
        data={[...new Set([path, ...parts.map(({ path: part }) => part)])].map((value) => ({
          value,
          label: `${value.split('/').at(-1)} (${plural(parts.find((part) => part.path === value)?.bodies ?? 1, 'body', 'bodies')})`,
        }))}
        value={path}
        onChange={(value) =>
          change({ file: value, product: null, sel: null, open: null, hidden: null, q: null })
        }
        allowDeselect={false}
        searchable
      />
      {products.length > 1 && (
        <Select
          aria-label="Product of the file"
          className={classes.half}
          placeholder="All of the file"
          data={products.map(({ key, name, bodies: count }) => ({
            value: key,
            label: `${name} (${plural(count, 'body', 'bodies')})`,
          }))}
          value={product}
          onChange={(value) => change({ product: value, sel: null, open: null, hidden: null, q: null })}
          clearable
          searchable
        />
      )}
      <Select
        aria-label={material.isSelection ? 'Material of the selected bodies' : 'Material of all bodies'}
        title={
          material.isSelection
            ? 'For the selected bodies'
            : 'For all bodies; select rows to give them another'
        }
        className={classes.material}
        placeholder={material.given.size > 1 ? 'Several' : 'Material'}
        data={MATERIALS.map(({ name }) => name)}
        value={material.given.size === 1 ? ([...material.given][0] ?? null) : null}
        onChange={material.set}
        clearable
      />
      <RenameMany
        count={toRename.length}
        isSelection={isRenamingSelection}
        onRename={(how) =>
          onNames(toRename.map((component) => [component, renamed(component.name, how)] as const))
        }
      />
      <FilterInput value={query} onChange={setQuery} />
    </div>
  );
}
