import type { MadeReport } from '#core/product/source/made-report';
import { count } from '../format';
import { useMeasures } from '../measures/useMeasures';
import { LEAK_WORDS } from './leak-words';

const SOLID_WORDS = {
  exact: 'with exact surfaces',
  facets: 'of facets',
  envelope: 'around all of it',
} as const;

/** What a file turned out to be that was made lighter than its original, in a few sentences. */
export function MadeLighter({ report }: { report: MadeReport }) {
  const { figure } = useMeasures();
  const { before, after, boxOff, kept, deviation, leaks, solid } = report;
  const sentences = [
    solid
      ? `One solid ${SOLID_WORDS[solid.way]}, ${solid.isProved ? 'valid and closed' : 'not proved to be valid'}; sections ${(100 * solid.filled).toFixed(1)} % filled`
      : `${count(after.occurrences)} of ${count(before.occurrences)} components, ${count(after.bodies)} of ${count(before.bodies)} bodies`,
    `${count(after.faces)} faces instead of ${count(before.faces)}`,
    boxOff < 1e-3 ? 'The same box' : `Box off by ${figure(boxOff, 'mm')}`,
    ...(kept.faces > 0 ? [`${kept.identical} of ${kept.faces} kept faces identical`] : []),
    deviation < 1e-3
      ? 'Nothing that is reached from outside has gone'
      : `What is reached from outside lies within ${figure(deviation, 'mm')} of it`,
    leaks.length === 0
      ? 'Tells nothing besides its outside'
      : `Can still be told: ${leaks.map((kind) => LEAK_WORDS[kind as keyof typeof LEAK_WORDS] ?? kind).join(', ')}`,
  ];
  return <span>{sentences.join('. ')}.</span>;
}
