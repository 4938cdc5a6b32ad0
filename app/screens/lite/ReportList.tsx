import { Button, VisuallyHidden } from '@mantine/core';
import type { ReductionReport } from '#core/geometry/reduce/report';
import { boxOff, sidesOf } from '#core/product/box';
import { count, countsInWords, plural } from '../../ui/format';
import { useMeasures } from '../../ui/measures/useMeasures';
import { LEAK_WORDS } from '../../ui/project/leak-words';
import classes from './Lite.module.css';
import { type Remedy, remedyInWords, remedyOf } from './remedies';

/** What lies no further off than this lies on it, mm. */
const ON_IT = 5e-4;

interface ReportListProps {
  report: ReductionReport;
  odd: readonly { file: string; body: number; why: string }[];
  /** Whether a remedy was chosen already: it is offered no more. */
  isChosen: (remedy: Remedy) => boolean;
  onRemedy: (remedy: Remedy) => void;
  disabled: boolean;
}

/** What the lite model is, held against the original. */
export function ReportList({ report, odd, isChosen, onRemedy, disabled }: ReportListProps) {
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
          {deviation.max < ON_IT
            ? `nothing that is reached from outside has gone${
                deviation.points > 0 ? ` (${plural(deviation.points, 'point')} tried)` : ''
              }`
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
            [removed.slots, 'slot'],
          ]) || 'nothing'}
        </dd>
        {removed.rounded.length > 0 && (
          <>
            <dt>Plain rings</dt>
            <dd>
              {plural(removed.rounded.length, 'component')}:{' '}
              {namesInWords(removed.rounded.map(({ key }) => key))}; up to{' '}
              {figure(Math.max(...removed.rounded.map(({ depth }) => depth)), 'mm')} deep
            </dd>
          </>
        )}
        {removed.sharpened.length > 0 && (
          <>
            <dt>Sharp edges</dt>
            <dd>
              {plural(removed.sharpened.length, 'component')}:{' '}
              {namesInWords(removed.sharpened.map(({ key }) => key))}; at most{' '}
              {figure(Math.max(...removed.sharpened.map(({ off }) => off)), 'mm')} off the rounds and bevels
            </dd>
          </>
        )}
        {removed.enveloped.length > 0 && (
          <>
            <dt>Envelopes</dt>
            <dd>
              {plural(removed.enveloped.length, 'component')}: {namesInWords(removed.enveloped)}
            </dd>
          </>
        )}
        {removed.joined > 0 && (
          <>
            <dt>Joined</dt>
            <dd>{plural(removed.joined, 'face')} with others that lie in the same surface</dd>
          </>
        )}
        {removed.cut.length > 0 && (
          <>
            <dt>Cut off inside</dt>
            <dd>
              {plural(removed.cut.length, 'component')}: {namesInWords(removed.cut)}
            </dd>
          </>
        )}
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
                {!isChosen(remedyOf(leak.kind)) && (
                  <Button
                    size="compact-xs"
                    variant="default"
                    disabled={disabled}
                    title={leak.remedy}
                    onClick={() => onRemedy(remedyOf(leak.kind))}
                  >
                    {remedyInWords(remedyOf(leak.kind))}
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

/** The last names of places in the structure, a few of them. */
function namesInWords(keys: readonly string[]): string {
  const names = [
    ...new Set(
      keys.map((key) =>
        key
          .split(' / ')
          .at(-1)!
          .replace(/ \(\d+\)$/, ''),
      ),
    ),
  ];
  return names.length > 4 ? `${names.slice(0, 4).join(', ')} and more` : names.join(', ');
}

function share(after: number, before: number): string {
  return before === 0 ? '' : `${Math.round((100 * after) / before)} %`;
}
