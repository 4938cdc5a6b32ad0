import type { LiteComponent } from '#core/jobs/lite/view';
import { count } from '../../ui/format';
import type { LedgerColumn } from '../../ui/ledger/Ledger';
import { Percent } from '../../ui/measures/Figures';
import classes from './Lite.module.css';
import { REACH_WORDS, REASON_WORDS } from './words';

/** What the table of components shows of each. */
export const COLUMNS: LedgerColumn<LiteComponent>[] = [
  {
    key: 'name',
    title: 'Component',
    width: 'minmax(120px, 1.4fr)',
    cell: ({ name, key }) => <span title={key}>{name}</span>,
    sort: ({ name }) => name,
  },
  {
    key: 'percent',
    title: 'Size',
    width: '62px',
    numeric: true,
    cell: ({ percent }) => <Percent part={percent / 100} digits={1} />,
    sort: ({ percent }) => percent,
  },
  {
    key: 'faces',
    title: 'Faces',
    width: '58px',
    numeric: true,
    cell: ({ faces }) => count(faces),
    sort: ({ faces }) => faces,
  },
  {
    key: 'reach',
    title: 'From outside',
    width: 'minmax(90px, 1fr)',
    cell: ({ reach, share, from }) => (
      <span title={from ? `Seen most from: ${from}` : undefined}>
        {REACH_WORDS[reach]}
        {reach === 'seen' && (
          <>
            {' '}
            <Percent part={share} digits={2} />
          </>
        )}
      </span>
    ),
    sort: ({ reach, share }) => `${reach} ${(1 - share).toFixed(6)}`,
  },
  {
    key: 'fate',
    title: 'Becomes',
    width: 'minmax(84px, 1fr)',
    cell: ({ reason, isProtected }) =>
      reason ? (
        <span className={classes.goes}>goes: {REASON_WORDS[reason]}</span>
      ) : isProtected ? (
        'kept'
      ) : (
        'stays'
      ),
    sort: ({ reason }) => reason ?? '',
  },
];
