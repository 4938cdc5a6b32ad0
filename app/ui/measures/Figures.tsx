import { useMeasures } from './useMeasures';

/** How large a file is, as whoever looks reads numbers. */
export function Bytes({ of }: { of: number }) {
  return useMeasures().bytes(of);
}

/** A part of a whole in percent. @param part 0 to 1 */
export function Percent({ part, digits }: { part: number; digits: number }) {
  return useMeasures().percent(part, digits);
}
