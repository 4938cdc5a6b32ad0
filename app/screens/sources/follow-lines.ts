import type { ReactNode } from 'react';
import type { FollowPreview } from '#core/jobs/follow/view';
import type { FollowLine } from '#core/jobs/split/newer/outline';
import type { PlannedView } from '#server/views/operations/planned-view';
import { plural } from '../../ui/format';

/** `1 changed, 2 moved`: the changes that there are. */
function countsInWords(lines: readonly FollowLine[]): string {
  const kinds = ['changed', 'moved', 'new', 'gone', 'unchanged'] as const;
  return kinds
    .flatMap((kind) => {
      const count = lines.filter(({ change }) => change === kind).length;
      return count > 0 ? [`${count} ${kind}`] : [];
    })
    .join(', ');
}

/** What following a source does, in lines. */
export function followLines(
  { files, preview: { lines } }: PlannedView<FollowPreview>,
  keepsGone: boolean,
): ReactNode[] {
  if (files.length === 0) return ['Every file is at the newest version of its source.'];
  const [renewed, created] = (['written', 'new'] as const).map(
    (does) => files.filter((file) => file.does === does).length,
  );
  const gone = lines.some(({ change }) => change === 'gone');
  return [
    `${countsInWords(lines)}: ${renewed === 0 ? 'no file gets' : plural(renewed!, 'file gets', 'files get')} a new version${created! > 0 ? ` and ${plural(created!, 'file is', 'files are')} new` : ''}.`,
    !gone
      ? 'Every version of now is kept.'
      : keepsGone
        ? 'What is gone from the source stays in the assembly. Every version of now is kept.'
        : 'What is gone from the source leaves the assembly; its files stay. Every version of now is kept.',
  ];
}
