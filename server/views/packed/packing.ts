import type { Steps } from '#core/steps';

/** So many rows or placings are packed between rests. */
export const RESTS = 512;

/** An object as JSON, with a rest after each of its values; of those in `deep` after each of theirs, too. */
export function* textSteps<Packed extends object>(
  packed: Packed,
  deep: readonly (keyof Packed)[] = [],
): Steps<string> {
  const pieces: string[] = [];
  for (const [name, value] of Object.entries(packed)) {
    yield;
    const text = deep.includes(name as keyof Packed) ? yield* textSteps(value) : JSON.stringify(value);
    if (text !== undefined) pieces.push(`${JSON.stringify(name)}:${text}`);
  }
  return `{${pieces.join(',')}}`;
}

export function stepsOf(numbers: readonly number[]): number[] {
  return numbers.map((value, n) => value - (numbers[n - 1] ?? 0));
}

export function summed(steps: readonly number[]): number[] {
  let sum = 0;
  return steps.map((step) => {
    sum += step;
    return sum;
  });
}

/** Values that are the same stand there once. */
export class Distinct<Value> {
  readonly values: Value[] = [];
  private readonly known = new Map<string, number>();

  indexOf(value: Value): number {
    const text = JSON.stringify(value);
    const known = this.known.get(text);
    if (known !== undefined) return known;
    this.known.set(text, this.values.length);
    return this.values.push(value) - 1;
  }
}
