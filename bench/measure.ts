/** One line of the results: a ratio of two medians measured in turn in the same run. */
export interface Result {
  what: string;
  against: string;
  ratio: number;
  /** The ratio that must not be passed, and on which side; null when none is set. */
  goal: { most: number } | { least: number } | null;
  note: string;
}

/**
 * Times two pieces of work in turn, so that both see the same machine, and compares their medians.
 * @returns a / b, and both medians in milliseconds
 */
export async function compare(
  a: () => unknown,
  b: () => unknown,
  runs = 9,
  /** Runs before those that count: short work is timed when it is compiled. */
  warmUp = 2,
): Promise<{ ratio: number; a: number; b: number }> {
  const times: { a: number[]; b: number[] } = { a: [], b: [] };
  for (let run = -warmUp; run < runs; run++) {
    for (const [name, work] of [
      ['a', a],
      ['b', b],
    ] as const) {
      const start = performance.now();
      await work();
      if (run >= 0) times[name].push(performance.now() - start);
    }
  }
  const [first, second] = [median(times.a), median(times.b)];
  return { ratio: first / second, a: first, b: second };
}

function median(values: number[]): number {
  return [...values].sort((x, y) => x - y)[values.length >> 1]!;
}

export function holds({ ratio, goal }: Result): boolean {
  if (goal === null) return true;
  return 'most' in goal ? ratio <= goal.most : ratio >= goal.least;
}
