import type { LitePreview } from '#core/jobs/lite/view';
import { count } from '../../ui/format';
import type { Measures } from '../../ui/measures/measures';
import type { Figure } from '../giving/FiguresStrip';

/** How much lighter the model becomes: before, after, and what is left of it. */
export function figuresOf({ report: { before, after } }: LitePreview, { bytes }: Measures): Figure[] {
  const figure = (what: string, key: keyof typeof before, inWords = count): Figure => ({
    what,
    from: inWords(before[key]),
    to: inWords(after[key]),
    left: after[key] / before[key],
  });
  return [
    figure('components', 'occurrences'),
    figure('bodies', 'bodies'),
    figure('faces', 'faces'),
    figure('triangles', 'triangles'),
    figure('file size', 'bytes', bytes),
  ];
}
