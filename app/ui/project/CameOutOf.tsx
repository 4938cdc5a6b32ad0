import { Link, useOutletContext } from 'react-router';
import type { MadeBefore } from '#core/project/scan/made-before';
import { addressIn } from '../address/addresses';
import { madeBeforeInWords } from './made-before-words';
import type { ProjectContext } from './project-context';

/** One source of a file, as its facts give it. */
export interface SourceOfFile {
  source: string;
  isBehind: boolean;
  bodies: string[];
}

/** Which body of which part a file came out of, with the way to see it there; and the way to what came out of the file. */
export function CameOutOf({
  path,
  projectId,
  sources,
  cameOut,
}: {
  path: string;
  projectId: string;
  sources: readonly SourceOfFile[];
  /** What came out of this one. */
  cameOut: readonly MadeBefore[];
}) {
  const { operations } = useOutletContext<ProjectContext>();
  const page = (source: string, file?: string) => addressIn(projectId, 'sources', { source, file });
  return (
    <>
      {sources.map(({ source, isBehind, bodies }) => (
        <span key={source}>
          {bodies.length > 0 && `${bodies.join(', ')} of `}
          <span className="mono">{source}</span>
          {isBehind && ', which has a newer version'}.{' '}
          <Link to={page(source, path)}>
            {bodies.length > 0 ? 'Show it in its source' : 'Show the source'}
          </Link>
        </span>
      ))}
      {cameOut.map((made) => (
        <span key={made.operation}>
          {operations.find(({ name }) => name === made.operation)?.title ?? made.operation}:{' '}
          {madeBeforeInWords(made)}{' '}
          <Link to={addressIn(projectId, 'files', { sel: made.opens })}>Show it</Link>{' '}
          <Link to={page(path)}>{made.behind > 0 ? 'Bring up to date' : 'Compare'}</Link>
        </span>
      ))}
    </>
  );
}
