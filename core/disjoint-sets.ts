/** Things, by number, in sets that are joined until no more belong together. */
export class DisjointSets {
  private readonly above: number[];

  constructor(count: number) {
    this.above = Array.from({ length: count }, (_, n) => n);
  }

  /** The one that stands for the whole set. */
  of(n: number): number {
    let top = n;
    while (this.above[top] !== top) top = this.above[top]!;
    // Whoever was passed on the way finds it at once the next time.
    for (let at = n; at !== top; ) {
      const next = this.above[at]!;
      this.above[at] = top;
      at = next;
    }
    return top;
  }

  /** The second one's set takes in the first one's. @returns whether they were two */
  join(one: number, other: number): boolean {
    const [a, b] = [this.of(one), this.of(other)];
    this.above[a] = b;
    return a !== b;
  }
}
