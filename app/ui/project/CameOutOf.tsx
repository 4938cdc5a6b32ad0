import { Link } from 'react-router';
import { addressIn } from '../address/addresses';

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
  /** How many files came out of this one. */
  cameOut: number;
}) {
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
      {cameOut > 0 && (
        <Link to={page(path)}>{cameOut === 1 ? 'One file' : `${cameOut} files`} came out of it</Link>
      )}
    </>
  );
}
