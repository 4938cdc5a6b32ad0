import type { Steps } from '#core/steps';

/** One missed thing with the files that may be it. */
export interface Contender {
  /** Contenders of one part may have the same file; others may not. Null where nobody contends. */
  part: string | null;
  /** The files, by number, each with the natural logarithm of how much likelier than a random file it is. */
  files: readonly { file: number; sum: number }[];
}

/** How likely it is, before anything is looked at, that the file is there at all. */
const THERE = 0.8;

/** More than this, no sum of evidence says. */
const MOST = 16;

const ROUNDS = 30;
const DAMPING = 0.3;

/** What weighs less against being gone changes nothing that anybody sees. */
const NEGLIGIBLE = 1e-5;

/**
 * How sure it is that a missed thing is a file, over all that are missed at once: each is at most one file or gone, and a file is
 * at most one part. Belief propagation on the graph of both (sum-product, damped). Cost grows with the pairs, thirty times over.
 * @param count how many files there are to choose from
 * @returns for each contender, in its order of files, 0 to 1
 * @example atOnce(confidenceSteps([{ part: 'lid', files: [{ file: 0, sum: 12 }] }], 10)) // [[0.99985]]
 */
export function* confidenceSteps(all: readonly Contender[], count: number): Steps<number[][]> {
  const weightOf = ({ sum }: { sum: number }) => (THERE / Math.max(1, count)) * Math.exp(Math.min(MOST, sum));
  const contenders = all.map(({ part, files }) => ({
    part,
    files: files.filter((one) => weightOf(one) > NEGLIGIBLE),
  }));
  yield;
  const beliefs = yield* believed(contenders, weightOf);
  return all.map(({ files }, n) => {
    const byFile = new Map(contenders[n]!.files.map(({ file }, k) => [file, beliefs[n]![k]!]));
    return files.map(({ file }) => byFile.get(file) ?? 0);
  });
}

function* believed(
  contenders: readonly Contender[],
  weightOf: (one: { sum: number }) => number,
): Steps<number[][]> {
  const gone = 1 - THERE;
  const weights = contenders.map(({ files }) => files.map(weightOf));
  const free = contenders.map(({ files }) => files.map(() => 1));
  const asks = contenders.map(({ files }) => files.map(() => 0));
  for (let round = 0; round < ROUNDS; round++) {
    yield;
    // 1. What each says to its files: how much it wants one, against its other files and being gone.
    for (const [n, own] of weights.entries()) {
      const total = own.reduce((sum, weight, k) => sum + weight * free[n]![k]!, gone);
      for (const [k, weight] of own.entries())
        asks[n]![k] = weight / Math.max(Number.MIN_VALUE, total - weight * free[n]![k]!);
    }
    // 2. What each file answers: how free it is, given what other parts ask for it.
    const asked = askedOfFiles(contenders, asks);
    for (const [n, { part, files }] of contenders.entries())
      for (const [k, { file }] of files.entries()) {
        const others = part === null ? 0 : othersAsk(asked.get(file)!, part);
        free[n]![k] = DAMPING * free[n]![k]! + (1 - DAMPING) / (1 + others);
      }
  }
  return asks.map((own, n) =>
    own.map((ask, k) => {
      const belief = ask * free[n]![k]!;
      return belief / (1 + belief);
    }),
  );
}

/** For each file, how much each part asks for it: the most that one contender of the part does, and all parts together. */
interface Asked {
  byPart: Map<string, number>;
  total: number;
}

function askedOfFiles(contenders: readonly Contender[], asks: readonly number[][]): Map<number, Asked> {
  const asked = new Map<number, Asked>();
  for (const [n, { part, files }] of contenders.entries()) {
    if (part === null) continue;
    for (const [k, { file }] of files.entries()) {
      const there = asked.get(file) ?? { byPart: new Map<string, number>(), total: 0 };
      const before = there.byPart.get(part) ?? 0;
      const now = Math.max(before, asks[n]![k]!);
      there.byPart.set(part, now);
      there.total += now - before;
      asked.set(file, there);
    }
  }
  return asked;
}

function othersAsk({ byPart, total }: Asked, part: string): number {
  return Math.max(0, total - byPart.get(part)!);
}
