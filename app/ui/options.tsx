import {
  SegmentedControl as MantineSegmentedControl,
  Select as MantineSelect,
  type SegmentedControlProps,
  type SelectProps,
} from '@mantine/core';

/** The value of an option, however it is written. */
function valueIn(option: unknown): string {
  return typeof option === 'object' && option !== null
    ? String((option as { value?: unknown; group?: unknown }).value ?? (option as { group?: unknown }).group)
    : String(option);
}

/** Options of which no two have one value: what files and products are called comes from outside, and equal values end a page. */
export function distinct<Option>(options: readonly Option[]): Option[] {
  const known = new Set<string>();
  return options.filter((option) => {
    const value = valueIn(option);
    const isNew = !known.has(value);
    known.add(value);
    return isNew;
  });
}

/** A choice of one out of a list. */
export function Select({ data, ...props }: SelectProps) {
  // The focus may be brought to it by what went away elsewhere: that is no wish to see its options.
  return <MantineSelect data={data && distinct(data)} openOnFocus={false} {...props} />;
}

/** A choice of one out of few, side by side. */
export function SegmentedControl<Value extends string>({ data, ...props }: SegmentedControlProps<Value>) {
  return <MantineSegmentedControl<Value> data={distinct(data)} {...props} />;
}
