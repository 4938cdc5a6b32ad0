import type {
  SpotlightActionData,
  SpotlightActionGroupData,
  SpotlightFilterFunction,
} from '@mantine/spotlight';

type Entry = SpotlightActionData | SpotlightActionGroupData;

/** Commands in whose words all that was typed stands. What the server has found fits already. */
export const fittingActions: SpotlightFilterFunction = (typed, actions) => {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const fits = ({ label = '', description = '' }: SpotlightActionData) =>
    words.every((word) => `${label} ${description}`.toLowerCase().includes(word));
  return actions
    .map((entry) =>
      isGroup(entry) && entry.group === COMMANDS ? { ...entry, actions: entry.actions.filter(fits) } : entry,
    )
    .filter((entry) => !isGroup(entry) || entry.actions.length > 0);
};

/** The group of commands: of others every entry is shown. */
export const COMMANDS = 'Commands';

function isGroup(entry: Entry): entry is SpotlightActionGroupData {
  return 'actions' in entry;
}
