import type { PlaceView } from '#server/views/operations/place-view';
import { Select } from '../../ui/options';
import classes from './PartSelect.module.css';

interface PartSelectProps extends Pick<PlaceView, 'parts'> {
  label: string;
  value: string | null;
  disabled: boolean;
  onChange: (path: string | null) => void;
}

/** A file of the project that an assembly can place. */
export function PartSelect({ parts, ...select }: PartSelectProps) {
  return (
    <Select
      className={classes.part}
      placeholder="A part or an assembly of the project"
      data={parts.map(({ path, name }) => ({ value: path, label: `${name} · ${path}` }))}
      searchable
      limit={200}
      {...select}
    />
  );
}
