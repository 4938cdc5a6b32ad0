import { Link, useOutletContext } from 'react-router';
import type { ChoiceInWords } from '#core/choices-in-words';
import type { RegistryEntry } from '#core/entry';
import type { RecordedChange } from '#server/projects/projects';
import { Time } from '../../ui/measures/Time';
import { OperationPage } from '../../ui/operation/OperationPage';
import { addressOf } from '../../ui/operation/operations';
import { useOperation } from '../../ui/operation/useOperation';
import type { ProjectContext } from '../../ui/project/project-context';
import classes from './Again.module.css';

interface AgainScreenProps extends RecordedChange {
  entry: RegistryEntry;
  /** What was chosen otherwise than it is without being said. */
  words: ChoiceInWords[];
}

/** An operation once more, with the choices that a change was made with: what it would do to the files as they are now. */
export function AgainScreen({ summary, who, when, made, entry, words }: AgainScreenProps) {
  const { projectId } = useOutletContext<ProjectContext>();
  const operation = useOperation<unknown>(made.operation, made.choices);
  const { file, source } = made.choices as { file?: unknown; source?: unknown };
  const path = file ?? source;
  return (
    <OperationPage
      operation={operation}
      choices={
        <div className={classes.page}>
          <h1>{entry.title}, again with the same choices</h1>
          <p className="muted">
            {summary}, by {who}, <Time iso={when} />. To choose otherwise,{' '}
            <Link to={addressOf(projectId, entry, typeof path === 'string' ? [path] : [])}>
              open its own page
            </Link>
            .
          </p>
          <dl className={classes.choices} aria-label="What was chosen">
            {words.map(({ name, meaning, value }) => (
              <div key={name}>
                <dt>{meaning || name}</dt>
                <dd className="mono">{value || 'yes'}</dd>
              </div>
            ))}
          </dl>
        </div>
      }
      empty="With these choices there is nothing to change in the files as they are now."
      label={() => 'Do it again'}
      doing="Doing it again"
    />
  );
}
