import { mountingFaces, type PublishedFacts } from '#core/project/change/published-facts';
import { count } from '../../ui/format';
import type { Measures } from '../../ui/measures/measures';

/** One thing that a page says, before and after. */
export interface FactDifference {
  name: string;
  before: string;
  after: string;
  isSame: boolean;
}

/** What the page of something will say otherwise than it does. */
export function differences(
  before: PublishedFacts,
  after: PublishedFacts,
  { box, volume, bytes }: Pick<Measures, 'box' | 'volume' | 'bytes'>,
): FactDifference[] {
  const facts: readonly [name: string, of: (facts: PublishedFacts) => string][] = [
    ['Box', ({ sides }) => box(sides)],
    ['Volume', (facts) => (facts.volume === undefined ? 'not said' : volume(facts.volume))],
    ['Faces', ({ faces }) => count(faces)],
    ['STEP file', (facts) => bytes(facts.bytes)],
    ['Mounted by', (facts) => mountingInWords(facts)],
    ['Part number', ({ partNumber }) => partNumber ?? 'none'],
    ['Conditions', ({ conditions }) => conditions ?? 'none'],
  ];
  return facts.map(([name, of]) => {
    const [was, is] = [of(before), of(after)];
    return { name, before: was, after: is, isSame: was === is };
  });
}

export function mountingInWords(facts: Pick<PublishedFacts, 'mounting'>): string {
  const faces = mountingFaces(facts);
  if (faces.length === 0) return 'not said';
  return faces.map(({ name, size }) => (size === null ? name : `${name}: ${size}`)).join('; ');
}
