import { timeInWords } from './measures';
import { useMeasures } from './useMeasures';

/** A moment as whoever looks reads clocks; in UTC on hover. */
export function Time({ iso }: { iso: string }) {
  const { time } = useMeasures();
  return (
    <time dateTime={iso} title={`${timeInWords(iso, 'UTC')} UTC`}>
      {time(iso)}
    </time>
  );
}
