import { plural } from '../ui/format';
import type { Measures } from '../ui/measures/measures';
import { axisOf, placeOf } from './section-address';
import type { SectionPlane, StageScene } from './types';

/** So many names are said; of more than that, how many. */
const MOST_NAMES = 3;

/** What is to be said of pictures that are not there; '' when all are. @param failed bodies whose picture could not be fetched */
export function picturesInWords({ bodies }: StageScene, failed: number): string {
  const waiting = bodies.filter((body) => body.url === null && !body.failed).length;
  const older = bodies.filter(({ isOlder }) => isOlder).length;
  const without = failed + bodies.filter((body) => body.failed).length;
  return [
    waiting > 0 && `${plural(waiting, 'body is', 'bodies are')} still being prepared`,
    older > 0 && `${plural(older, 'body is', 'bodies are')} shown as before until the new picture is made`,
    without > 0 && `${plural(without, 'body has', 'bodies have')} no picture; the files say why`,
  ]
    .filter(Boolean)
    .join(' · ');
}

/** What the stage shows, in words, for those who do not see it. */
export function stageInWords(
  scene: StageScene,
  selected: ReadonlySet<number>,
  hidden: ReadonlySet<number>,
  section: SectionPlane | null,
  { length }: Measures,
): string {
  const shown = scene.instances.filter(({ row, tone }) => !hidden.has(row) && tone !== 'ghost');
  const names = [...new Set(shown.filter(({ row }) => selected.has(row)).map(({ name }) => name))];
  const more = names.length - MOST_NAMES;
  const axis = section && axisOf(section.normal);
  return [
    `The model shows ${plural(shown.length, 'body', 'bodies')}${hidden.size > 0 ? '; others are hidden' : ''}.`,
    names.length > 0 &&
      `Selected: ${names.slice(0, MOST_NAMES).join(', ')}${more > 0 ? ` and ${plural(more, 'other')}` : ''}.`,
    section && `Cut open ${axis ? `across ${axis}, at ${length(placeOf(section))}` : 'along a face'}.`,
  ]
    .filter(Boolean)
    .join(' ');
}
