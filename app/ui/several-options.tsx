import { MultiSelect as MantineMultiSelect, type MultiSelectProps } from '@mantine/core';
import { distinct } from './options';

/** A choice of several out of a list. By itself, since few pages have one and all would fetch it. */
export function MultiSelect({ data, ...props }: MultiSelectProps) {
  return <MantineMultiSelect data={data && distinct(data)} openOnFocus={false} {...props} />;
}
