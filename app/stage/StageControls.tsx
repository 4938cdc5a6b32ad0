import { Button, Kbd, Menu } from '@mantine/core';
import { IconChevronDown } from '@tabler/icons-react';
import type { Colouring } from './colouring';
import classes from './Stage.module.css';
import { DIRECTIONS, type Direction } from './types';

/** What can be switched on the stage. */
export interface StageSwitches {
  edges: boolean;
  seeThrough: boolean;
  pullApart: boolean;
  section: boolean;
  measuring: boolean;
}

/** Views that are kept under names. */
export interface KeptViewNames {
  names: readonly string[];
  onGoTo(name: string): void;
}

interface StageControlsProps {
  switches: StageSwitches;
  /** Ways to colour what is shown, and the one that is chosen. */
  colourings: readonly Colouring[];
  colouredBy: string | null;
  onColourBy: (key: string | null) => void;
  hasSelection: boolean;
  onSwitch: (name: keyof StageSwitches, on: boolean) => void;
  onFit: () => void;
  onFitSelected: () => void;
  onLook: (direction: Direction) => void;
  onLookBack: () => void;
  kept?: KeptViewNames & { onOpen(): void };
  /** A picture to be kept. @param size pixels; as it is shown unless it is said */
  onPicture: (size?: readonly [width: number, height: number]) => void;
}

/** So many kept views stand in the menu; all of them in their dialog. */
const MOST_NAMES = 8;

/** Pixels of pictures for documents and for large screens. */
const PICTURES = [
  [1920, 1080],
  [3840, 2160],
] as const;

/** Where to look from, and what is shown how. */
export function StageControls({
  switches,
  colourings,
  colouredBy,
  onColourBy,
  hasSelection,
  onSwitch,
  onFit,
  onFitSelected,
  onLook,
  onLookBack,
  kept,
  onPicture,
}: StageControlsProps) {
  const checkbox = (name: keyof StageSwitches, words: string) => (
    <Menu.CheckboxItem
      checked={switches[name]}
      onChange={(on) => onSwitch(name, on)}
      closeMenuOnClick={false}
    >
      {words}
    </Menu.CheckboxItem>
  );
  const button = (name: keyof StageSwitches, words: string) => (
    <Button
      variant={switches[name] ? 'light' : 'default'}
      aria-pressed={switches[name]}
      onClick={() => onSwitch(name, !switches[name])}
    >
      {words}
    </Button>
  );
  return (
    <div className={classes.controls} role="toolbar" aria-label="View">
      <Button.Group>
        <Button variant="default" onClick={onFit}>
          Fit all
        </Button>
        <Menu position="bottom-start">
          <Menu.Target>
            <Button variant="default" rightSection={<IconChevronDown size={14} aria-hidden />}>
              View
            </Button>
          </Menu.Target>
          <Menu.Dropdown>
            {DIRECTIONS.map((direction, n) => (
              <Menu.Item
                key={direction}
                aria-keyshortcuts={String(n + 1)}
                rightSection={
                  <Kbd size="xs" aria-hidden>
                    {n + 1}
                  </Kbd>
                }
                onClick={() => onLook(direction)}
              >
                {direction[0]!.toUpperCase() + direction.slice(1)}
              </Menu.Item>
            ))}
            <Menu.Divider />
            <Menu.Item disabled={!hasSelection} onClick={onFitSelected}>
              What is selected
            </Menu.Item>
            <Menu.Item onClick={onLookBack}>Previous view</Menu.Item>
            {kept && (
              <>
                <Menu.Divider />
                {kept.names.slice(0, MOST_NAMES).map((name) => (
                  <Menu.Item key={name} onClick={() => kept.onGoTo(name)}>
                    {name}
                  </Menu.Item>
                ))}
                <Menu.Item onClick={kept.onOpen}>Kept views…</Menu.Item>
              </>
            )}
            <Menu.Divider />
            <Menu.Label>Picture (PNG)</Menu.Label>
            <Menu.Item onClick={() => onPicture()}>As it is shown</Menu.Item>
            {PICTURES.map((size) => (
              <Menu.Item key={size.join()} onClick={() => onPicture(size)}>
                {size.join(' × ')}
              </Menu.Item>
            ))}
          </Menu.Dropdown>
        </Menu>
      </Button.Group>
      <Menu position="bottom-start">
        <Menu.Target>
          <Button variant="default" rightSection={<IconChevronDown size={14} aria-hidden />}>
            Show
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          {checkbox('edges', 'Edges')}
          {checkbox('seeThrough', 'The rest faintly, when something is selected')}
          {colourings.map(({ key, title }) => (
            <Menu.CheckboxItem
              key={key}
              checked={key === colouredBy}
              onChange={(on) => onColourBy(on ? key : null)}
              closeMenuOnClick={false}
            >
              Colours by {title}
            </Menu.CheckboxItem>
          ))}
          {checkbox('pullApart', 'Pull apart')}
        </Menu.Dropdown>
      </Menu>
      {button('section', 'Section')}
      {button('measuring', 'Measure')}
    </div>
  );
}
