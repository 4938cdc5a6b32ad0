import classes from './CellField.module.css';

type Passed = Pick<
  React.ComponentProps<'input'>,
  'aria-label' | 'aria-invalid' | 'title' | 'maxLength' | 'disabled'
>;

interface CellFieldProps extends Passed {
  value: string;
  /** It says something else than before. */
  isChanged?: boolean;
  /** A path, or another text of which every sign counts. */
  isCode?: boolean;
  /** What of it is typed anew: all unless it is said. */
  selects?: (field: HTMLInputElement) => void;
  onChange: (text: string) => void;
}

/** A text that is typed in the cell of a table. */
export function CellField({
  isChanged = false,
  isCode = false,
  selects = (field) => field.select(),
  onChange,
  ...passed
}: CellFieldProps) {
  return (
    <input
      {...passed}
      className={classes.field}
      data-changed={isChanged || undefined}
      data-code={isCode || undefined}
      data-next
      // Whoever types in a row does not choose it.
      onClick={(event) => event.stopPropagation()}
      onFocus={({ currentTarget }) => selects(currentTarget)}
      onChange={({ currentTarget: { value } }) => onChange(value)}
    />
  );
}
