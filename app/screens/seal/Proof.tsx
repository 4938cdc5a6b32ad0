import { Button } from '@mantine/core';
import { IconCheck, IconX } from '@tabler/icons-react';
import type { SealReport } from '#core/jobs/seal/proof';
import { boxOff } from '#core/product/box';
import { count } from '../../ui/format';
import type { Measures } from '../../ui/measures/measures';
import { useMeasures } from '../../ui/measures/useMeasures';
import classes from './Seal.module.css';

type Line = [isRight: boolean, words: string];

/** Whether the faces for mounting are what they were: of facets, to a tenth of what is asked of all others. */
function keptInWords({ kept, within }: SealReport, { figure }: Measures): Line {
  if (within === null) {
    const identical = kept.filter((face) => face.identical).length;
    return [identical === kept.length, `${identical} of ${kept.length} kept faces identical`];
  }
  const off = Math.max(...kept.map((face) => face.off ?? 0));
  return [off <= within / 10, `kept faces within ${figure(off, 'mm')}`];
}

const WAYS = {
  exact: 'Exact: its surfaces stay what they were',
  facets: 'Made of facets',
  envelope: 'An envelope: nothing stands out of it',
} as const;

interface ProofProps {
  report: SealReport;
  /** Makes it of facets that lie further off, mm. */
  onWithin: (within: number) => void;
}

/** What stands for it that it is one solid, line by line. */
export function Proof({ report, onWithin }: ProofProps) {
  const measures = useMeasures();
  const off = boxOff(report.box.before, report.box.after);
  const { within, deviation, lighterWithin } = report;
  const lines: Line[] = [
    ...(within !== null && deviation.max > within
      ? [
          [
            false,
            `${measures.figure(deviation.max, 'mm')} off, where ${measures.figure(within, 'mm')} was asked`,
          ] as Line,
        ]
      : []),
    [report.loose.length === 0, 'one solid'],
    [report.isValid, 'valid, oriented, no self-intersection found'],
    [report.isClosed, 'closed: one outer shell, no inner one'],
    [
      report.sections.every((part) => part > 0.9999),
      `sections filled: ${report.sections.map((part) => measures.percent(part, 1)).join(', ')} across x, y, z`,
    ],
    [
      report.way === 'envelope' ? off <= (within ?? 0) : off < 0.1,
      off < 1e-3 ? 'the same box' : `box off by ${measures.figure(off, 'mm')}`,
    ],
    [
      report.names.length === 0,
      report.names.length === 0
        ? 'no name of the original in it'
        : `names in it: ${report.names.slice(0, 4).join(', ')}`,
    ],
    [
      report.leaks.length === 0,
      report.leaks.length === 0
        ? 'no words but those of the standard'
        : `words in it: ${report.leaks
            .flatMap(({ examples }) => examples)
            .slice(0, 4)
            .join(', ')}`,
    ],
    ...(report.kept.length > 0 ? [keptInWords(report, measures)] : []),
  ];
  return (
    <section className={classes.proof} aria-label="Proof">
      <h2>{WAYS[report.way]}</h2>
      <ul>
        {lines.map(([isRight, words]) => (
          <li key={words} data-wrong={!isRight || undefined}>
            {isRight ? <IconCheck size={15} aria-label="yes:" /> : <IconX size={15} aria-label="no:" />}
            {words}
          </li>
        ))}
      </ul>
      <p className="muted">
        {count(report.before.bodies)} bodies and {count(report.before.faces)} faces became{' '}
        {count(report.after.faces)} faces, {measures.bytes(report.before.bytes)} became{' '}
        {measures.bytes(report.after.bytes)}.
        {report.pins > 0 &&
          ` ${report.pins === 1 ? 'One hidden pin joins' : `${report.pins} hidden pins join`} what does not touch.`}
        {report.hollows > 0 && ` ${count(report.hollows)} hollows are filled.`}
      </p>
      {lighterWithin !== null && (
        <Button size="compact-sm" variant="default" onClick={() => onWithin(lighterWithin)}>
          About 3{'\u202f'}000 facets: within {measures.figure(lighterWithin, 'mm')}
        </Button>
      )}
    </section>
  );
}
