import type { ChangedFile, PlannedView } from '#server/views/operations/planned-view';
import { plural } from '../format';

/** So many files are named one by one. */
const MOST_NAMED = 3;

const WORDS: { readonly [does in ChangedFile['does']]: [one: string, many: string] } = {
  new: ['new file', 'new files'],
  written: ['file gets a new version', 'files get a new version'],
  moved: ['file moves', 'files move'],
  removed: ['file is removed', 'files are removed'],
};

/** What a plan does to files, a line for each kind of change. Old versions are kept, whatever it is. */
export function changeLines({ files, rewires }: Pick<PlannedView, 'files' | 'rewires'>): React.ReactNode[] {
  return (Object.keys(WORDS) as ChangedFile['does'][]).flatMap((does) => {
    const changed = files.filter((file) => file.does === does);
    if (changed.length === 0) return [];
    const names = changed.slice(0, MOST_NAMED);
    return [
      <>
        {plural(changed.length, ...WORDS[does])}
        {does === 'written' && rewires.length > 0 && `, with ${plural(rewires.length, 'link')} written anew`}:{' '}
        {names.map(({ path, to }, n) => (
          <span key={path} className="mono">
            {n > 0 && ', '}
            {path}
            {to !== undefined && ` → ${to}`}
          </span>
        ))}
        {changed.length > names.length && (
          <details>
            <summary>and {changed.length - names.length} more</summary>
            {changed.slice(MOST_NAMED).map(({ path, to }) => (
              <div key={path} className="mono">
                {path}
                {to !== undefined && ` → ${to}`}
              </div>
            ))}
          </details>
        )}
      </>,
    ];
  });
}
