import { Button, Radio } from '@mantine/core';
import type { PresetRow } from '#server/views/operations/presets-view';
import classes from './Presets.module.css';

interface PresetListProps {
  presets: readonly PresetRow[];
  chosen: string | null;
  onChoose: (name: string) => void;
  /** Null where nothing may be changed. */
  onTakeOut: ((name: string) => void) | null;
  disabled: boolean;
}

/** The presets, each with what it is for; of the one that is chosen, all that it does. */
export function PresetList({ presets, chosen, onChoose, onTakeOut, disabled }: PresetListProps) {
  return (
    <Radio.Group value={chosen} onChange={onChoose} aria-label="Preset">
      <ul className={classes.presets}>
        {presets.map(({ name, purpose, makes, isOwn, does }) => (
          <li key={name} data-chosen={name === chosen || undefined}>
            <Radio
              value={name}
              disabled={disabled}
              label={name}
              description={`${makes}${isOwn ? ', of this project' : ''}. ${purpose}`}
              classNames={{ label: classes.name!, description: classes.purpose! }}
            />
            {name === chosen && (
              <div className={classes.more}>
                <dl aria-label={`What ${name} does`}>
                  {does.map(({ name: choice, meaning, value }) => (
                    <div key={choice}>
                      <dt>{meaning}</dt>
                      {value !== '' && <dd>{value}</dd>}
                    </div>
                  ))}
                </dl>
                {isOwn && onTakeOut && (
                  <Button
                    size="compact-xs"
                    variant="default"
                    disabled={disabled}
                    onClick={() => onTakeOut(name)}
                  >
                    Take it out
                  </Button>
                )}
              </div>
            )}
          </li>
        ))}
      </ul>
    </Radio.Group>
  );
}
