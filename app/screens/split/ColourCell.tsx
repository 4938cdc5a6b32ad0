import { Button, ColorPicker, Popover } from '@mantine/core';
import classes from './Split.module.css';

interface Props {
  colour: string | null;
  /** Chosen here, and not the source's. */
  isChosen: boolean;
  label: string;
  disabled: boolean;
  onColour: (colour: string | null) => void;
  /** Whether the colours are offered. */
  isOpen: boolean;
  onOpen: (open: boolean) => void;
}

const SWATCHES = [
  '#b4b8ba',
  '#6f98a8',
  '#8f9f6a',
  '#c9a45c',
  '#b07f6f',
  '#8a82a8',
  '#4a5a6a',
  '#e8e2d4',
  '#b4451f',
  '#1e6f66',
];

/** The colour of a row: pressing it offers others for the new files. */
export function ColourCell({
  colour,
  isChosen,
  label,
  disabled,
  onColour,
  isOpen: open,
  onOpen: setOpen,
}: Props) {
  return (
    <Popover opened={open} onChange={setOpen} position="bottom-start" shadow="md" withArrow trapFocus>
      <Popover.Target>
        <button
          type="button"
          className={classes.swatch}
          aria-label={`Colour of ${label}`}
          title={isChosen ? 'Chosen here; the source keeps its own' : 'As the source has it'}
          data-chosen={isChosen || undefined}
          disabled={disabled}
          tabIndex={-1}
          style={{ background: colour ?? 'repeating-linear-gradient(45deg, #ddd8cd 0 3px, #fcfbf8 3px 6px)' }}
          onClick={(event) => {
            event.stopPropagation();
            setOpen(!open);
          }}
        />
      </Popover.Target>
      <Popover.Dropdown
        onClick={(event) => event.stopPropagation()}
        onKeyDown={(event) => event.stopPropagation()}
      >
        <div className={classes.colours}>
          <ColorPicker
            format="hex"
            size="sm"
            value={colour ?? '#b4b8ba'}
            swatches={SWATCHES}
            swatchesPerRow={10}
            onChangeEnd={(value) => onColour(value.toLowerCase().slice(0, 7))}
          />
          <Button
            variant="default"
            disabled={!isChosen}
            onClick={() => {
              onColour(null);
              setOpen(false);
            }}
          >
            As the source has it
          </Button>
        </div>
      </Popover.Dropdown>
    </Popover>
  );
}
