import type { SplitChoices } from '#core/jobs/split/choices';
import type { SplitOutlineView } from '#core/jobs/split/view';
import { plural } from '../../ui/format';

/** What a split will change: new files, and what becomes of the part. @param total bodies of the part */
export function splitLines(
  outline: SplitOutlineView,
  choices: SplitChoices,
  path: string,
  total: number,
): React.ReactNode[] {
  const count = outline.components.reduce((sum, { bodies }) => sum + bodies.length, 0);
  return [filesLine(outline, choices, count), sourceLine(outline, choices, path, total - count)];
}

/** What files there will be. */
function filesLine(
  { components, folder, assembly }: SplitOutlineView,
  choices: SplitChoices,
  count: number,
): React.ReactNode {
  const kinds = components.some(({ isJoined }) => isJoined) ? 'component' : 'shape';
  const pairs = components.filter(({ mirrorOf }, n) => mirrorOf !== null && mirrorOf > n).length;
  const shapes = `${plural(count, 'body', 'bodies')} of ${plural(components.length, kinds)}${pairs > 0 ? `, ${plural(pairs, 'mirrored pair')}` : ''}`;
  return choices.inFile ? (
    <>
      {shapes}: one new file <span className="mono">{assembly}</span> with {plural(components.length, 'part')}{' '}
      inside it.
    </>
  ) : (
    <>
      {shapes}: {plural(components.length, 'new file')} in <span className="mono">{folder || '/'}</span> and
      the assembly <span className="mono">{assembly.split('/').at(-1)}</span>, which puts every body back
      where it is.
    </>
  );
}

/** What becomes of the source and of what uses it. */
function sourceLine({ users }: SplitOutlineView, choices: SplitChoices, path: string, left: number): string {
  const name = path.split('/').at(-1);
  return {
    keep: `${name} stays as it is.`,
    remove: `${name} keeps ${plural(left, 'body', 'bodies')}; the version of now is kept, too.`,
    replace:
      users.length === 0
        ? `${name} stays; no assembly uses it.`
        : `${users.join(', ')} will use the new assembly in its place.`,
  }[choices.rest];
}
