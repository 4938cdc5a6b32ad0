import { Checkbox } from '@mantine/core';
import type { ArrivingHistory } from '#core/jobs/import/plan';
import { plural } from '../../ui/format';
import classes from './Import.module.css';

interface HistoryOfExportProps {
  history: ArrivingHistory;
  isLeftOut: boolean;
  onLeaveOut: (isLeftOut: boolean) => void;
}

/** What an exported project holds besides its files, and whether it comes along. */
export function HistoryOfExport({ history, isLeftOut, onLeaveOut }: HistoryOfExportProps) {
  const { exported, canCome, people } = history;
  const day = exported.slice(0, 10);
  if (!canCome)
    return (
      <p className={classes.history}>
        It is a project as it was exported on {day}. Its history, {inShort(history)}, stays in the zip: it
        comes along into a new project of your own only. Make one on the page Projects, and import it there.
      </p>
    );
  return (
    <Checkbox
      className={classes.history}
      label={`With its history, as it was exported on ${day}: ${inShort(history)}`}
      description={
        people > 0
          ? `${plural(people, 'member is', 'members are')} invited by address. Whoever has no account here is known by name.`
          : undefined
      }
      checked={!isLeftOut}
      onChange={(event) => onLeaveOut(!event.currentTarget.checked)}
    />
  );
}

function inShort({ versions, changes, publications }: ArrivingHistory): string {
  const parts = [plural(versions, 'version'), plural(changes, 'change')];
  if (publications > 0) parts.push(plural(publications, 'publication'));
  return parts.join(', ');
}
