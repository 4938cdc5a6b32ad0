import type { FollowLine } from '#core/jobs/split/newer/outline';
import type { Measures } from '../../ui/measures/measures';

/** Less than this is rounding, mm. */
const LEAST = 0.005;

/**
 * What a line of the plan means for the body, in numbers: by how much it grew or shrank, how far it went, how large it
 * is when it is new or gone. '' where nothing is different, or nothing is known.
 */
export function differenceInWords(
  { change, before, now, way }: FollowLine,
  { box, length, volume }: Measures,
): string {
  if (change === 'moved') return way === null ? '' : way < LEAST ? 'turned' : `by ${length(way)}`;
  if (change === 'new' || change === 'gone') {
    const sides = (now ?? before)?.sides;
    return sides ? box(sides) : '';
  }
  if (change === 'unchanged' || !before || !now) return '';
  const parts = ['x', 'y', 'z'].flatMap((axis, n) => {
    const more = now.sides[n]! - before.sides[n]!;
    return Math.abs(more) < LEAST ? [] : [`${axis} ${signed(more, length)}`];
  });
  const more = now.volume - before.volume;
  if (Math.abs(more) > 1e-6 * before.volume) parts.push(signed(more, volume));
  return parts.length > 0 ? parts.join(', ') : 'its looks or its form, not its size';
}

function signed(value: number, inWords: (value: number) => string): string {
  return `${value < 0 ? '−' : '+'}${inWords(Math.abs(value))}`;
}
