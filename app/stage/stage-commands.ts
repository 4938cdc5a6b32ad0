import type { PageCommand } from '../ui/frame/page-commands';
import type { StageSwitches } from './StageControls';
import type { StageView } from './stage-view';
import { DIRECTIONS, type SectionPlane } from './types';

interface StageState {
  section: SectionPlane | null;
  switches: Omit<StageSwitches, 'section'>;
  turnSwitch: (name: keyof StageSwitches, on: boolean) => void;
}

/** What the palette offers of a stage. */
export function stageCommands(
  view: StageView | null,
  { section, switches, turnSwitch }: StageState,
): PageCommand[] {
  return [
    { label: 'Fit all', description: 'On the model', run: () => view?.fit() },
    ...DIRECTIONS.map((direction) => ({
      label: `Look from: ${direction}`,
      description: 'On the model',
      isMinor: true,
      run: () => view?.look(direction),
    })),
    { label: 'Previous view', description: 'On the model', run: () => view?.lookBack() },
    {
      label: section ? 'Close the section' : 'Section',
      description: 'Cut the model open across an axis or along a face',
      run: () => turnSwitch('section', section === null),
    },
    {
      label: switches.measuring ? 'Stop measuring' : 'Measure',
      description: 'Distances, angles, radii on the model',
      run: () => turnSwitch('measuring', !switches.measuring),
    },
    {
      label: switches.seeThrough ? 'Show the rest as it is' : 'Show the rest faintly',
      description: 'What is selected stands out on the model',
      run: () => turnSwitch('seeThrough', !switches.seeThrough),
    },
  ];
}
