import { Button, VisuallyHidden } from '@mantine/core';
import type { LeakKind } from '#core/geometry/leaks/leaks';
import { FORGETTABLE, type Forgettable } from '#core/geometry/reduce/choices';
import type { ReductionReport } from '#core/geometry/reduce/report';
import { boxOff, sidesOf } from '#core/product/box';
import { count, countsInWords, plural } from '../../ui/format';
import { useMeasures } from '../../ui/measures/useMeasures';
import { LEAK_WORDS } from '../../ui/project/leak-words';
import classes from './Lite.module.css';

/** What helps against a leak, as a choice; nothing for what needs a look. */
function remedyOf(kind: LeakKind): Forgettable | 'outside' | null {
  if (kind === 'inner faces') return null;
  if (kind === 'labels') return 'names';
  return FORGETTABLE.find((what) => what === kind) ?? 'outside';
}

interface ReportListProps {
  report: ReductionReport;
  odd: readonly { file: string; body: number; why: string }[];
  onRemedy: (remedy: Forgettable | 'outside') => void;
  disabled: boolean;
}

/** What the lite model is, held against the original. */
export function ReportList({ report, odd, onRemedy, disabled }: ReportListProps) {
  const { before, after, box, volume, kept, deviation, removed } = report;
  const measures = useMeasures();
  const { figure, number } = measures;
  const off = boxOff(box.before, box.after);
  const space = measures.volumes([volume.before, volume.after]);
  type Row = [what: string, before: string, after: string, left: string];
  const row = (what: string, key: keyof typeof before, inWords = count): Row => [
    what,
    inWords(before[key]),
    inWords(after[key]),
    share(after[key], before[key]),
  ];
  const rows: Row[] = [
    row('Components', 'occurrences'),
    row('Different parts', 'distinctParts'),
    row('Bodies', 'bodies'),
    row('Faces', 'faces'),
    row('Triangles', 'triangles'),
    row('Bytes', 'bytes', measures.bytes),
    ['Volume', space.words(volume.before), space.words(volume.after), share(volume.after, volume.before)],
  ];
  const identical = kept.filter((face) => face.identical).length;
  return (
    <div className={classes.report}>
      <table>
        <thead>
          <tr>
            <th scope="col">
              <VisuallyHidden>What</VisuallyHidden>
            </th>
            <th scope="col">Before</th>
            <th scope="col">After</th>
            <th scope="col">Left</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(([what, ...figures]) => (
            <tr key={what}>
              <th scope="row">{what}</th>
              {figures.map((cell, n) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: the columns are always the same
                <td key={n}>{cell}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <dl>
        <dt>Box</dt>
        <dd>
          {measures.box(sidesOf(box.before))}: {off < 1e-3 ? 'the same' : `off by ${figure(off, 'mm')}`}
        </dd>
        <dt>Kept faces</dt>
        <dd>
          {kept.length === 0 ? 'none chosen' : `${identical} of ${kept.length} identical, to the last digit`}
        </dd>
        <dt>Outside</dt>
        <dd>
          {deviation.max === 0
            ? 'nothing that is reached from outside has gone'
            : `what is reached lies at most ${figure(deviation.max, 'mm')} from what is left${
                deviation.at ? `, at ${deviation.at.map((value) => number(value, 1)).join(', ')}` : ''
              } (${plural(deviation.points, 'point')} tried)`}
        </dd>
        <dt>Filled</dt>
        <dd>
          {countsInWords([
            [removed.holes, 'hole'],
            [removed.pockets, 'pocket'],
            [removed.voids, 'void'],
          ]) || 'nothing'}
        </dd>
        <dt>Can still be told</dt>
        <dd>
          {report.leaks.length === 0 && 'nothing besides its outside'}
          <ul className={classes.leaks}>
            {report.leaks.map((leak) => (
              <li key={leak.kind}>
                <span>
                  {LEAK_WORDS[leak.kind]} ({count(leak.count)}
                  {leak.examples[0] && `, such as “${leak.examples[0]}”`})
                </span>
                {remedyOf(leak.kind) && (
                  <Button
                    size="compact-xs"
                    variant="default"
                    disabled={disabled}
                    title={leak.remedy}
                    onClick={() => onRemedy(remedyOf(leak.kind)!)}
                  >
                    {remedyOf(leak.kind) === 'outside' ? 'Make it for outside' : 'Forget'}
                  </Button>
                )}
              </li>
            ))}
          </ul>
        </dd>
        {odd.length > 0 && (
          <>
            <dt>Left as they are</dt>
            <dd>
              {odd.slice(0, 5).map(({ file, body, why }) => (
                <div key={`${file} ${body}`}>
                  {file.split('/').at(-1)} #{body}: {why}
                </div>
              ))}
              {odd.length > 5 && <div>and {odd.length - 5} more</div>}
            </dd>
          </>
        )}
      </dl>
    </div>
  );
}

function share(after: number, before: number): string {
  return before === 0 ? '' : `${Math.round((100 * after) / before)} %`;
}
