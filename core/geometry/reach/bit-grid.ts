/** Yes or no for every cube of a box of cubes, a bit each: rows along x, 32 cubes a word. What lies outside the box is no. */
export class BitGrid {
  /** Words of a row. */
  readonly words: number;
  readonly bits: Uint32Array;

  constructor(
    readonly nx: number,
    readonly ny: number,
    readonly nz: number,
  ) {
    this.words = Math.ceil(nx / 32);
    this.bits = new Uint32Array(this.words * ny * nz);
  }

  /** Offset of a row's first word. */
  row(y: number, z: number): number {
    return (z * this.ny + y) * this.words;
  }

  has(x: number, y: number, z: number): boolean {
    if (x < 0 || y < 0 || z < 0 || x >= this.nx || y >= this.ny || z >= this.nz) return false;
    return ((this.bits[this.row(y, z) + (x >> 5)]! >>> (x & 31)) & 1) === 1;
  }

  set(x: number, y: number, z: number): void {
    this.bits[this.row(y, z) + (x >> 5)]! |= 1 << (x & 31);
  }

  copy(): BitGrid {
    const copy = new BitGrid(this.nx, this.ny, this.nz);
    copy.bits.set(this.bits);
    return copy;
  }

  count(): number {
    let sum = 0;
    for (let word of this.bits) {
      word -= (word >>> 1) & 0x55555555;
      word = (word & 0x33333333) + ((word >>> 2) & 0x33333333);
      sum += (((word + (word >>> 4)) & 0x0f0f0f0f) * 0x01010101) >>> 24;
    }
    return sum;
  }

  /** Every cube whose neighbour, across a side, is set becomes set, too. */
  growBySides(): void {
    const before = this.bits.slice();
    this.growAlongX();
    this.orRows(before, 1, 0);
    this.orRows(before, 0, 1);
  }

  /** Every cube of the 3 x 3 x 3 around one that is set becomes set. */
  growByCubes(): void {
    this.growAlongX();
    this.orRows(this.bits.slice(), 1, 0);
    this.orRows(this.bits.slice(), 0, 1);
  }

  private growAlongX(): void {
    const { bits, words } = this;
    const last = this.nx & 31 ? (1 << (this.nx & 31)) - 1 : -1;
    for (let from = 0; from < bits.length; from += words) {
      let before = 0;
      for (let n = 0; n < words; n++) {
        const own = bits[from + n]!;
        const after = n + 1 < words ? bits[from + n + 1]! : 0;
        let grown = own | (own << 1) | (own >>> 1) | (before >>> 31) | (after << 31);
        if (n === words - 1) grown &= last;
        bits[from + n] = grown;
        before = own;
      }
    }
  }

  /** Takes over the rows of `before` from both sides. */
  private orRows(before: Uint32Array, stepY: 0 | 1, stepZ: 0 | 1): void {
    const { bits, words, ny, nz } = this;
    for (let z = 0; z < nz; z++)
      for (let y = 0; y < ny; y++) {
        const row = this.row(y, z);
        const below = y - stepY >= 0 && z - stepZ >= 0 ? this.row(y - stepY, z - stepZ) : -1;
        const above = y + stepY < ny && z + stepZ < nz ? this.row(y + stepY, z + stepZ) : -1;
        for (let n = 0; n < words; n++)
          bits[row + n]! |= (below < 0 ? 0 : before[below + n]!) | (above < 0 ? 0 : before[above + n]!);
      }
  }
}

/**
 * Everything that can be reached across sides from the rim of the box without entering what is set. Row after row: a word at a time, and
 * a row again when one beside it has changed.
 */
export function floodFromRim(walls: BitGrid): BitGrid {
  const { nx, ny, nz, words } = walls;
  const flood = new BitGrid(nx, ny, nz);
  const last = nx & 31 ? (1 << (nx & 31)) - 1 : -1;
  const isQueued = new Uint8Array(ny * nz);
  let queue = Array.from({ length: ny * nz }, (_, n) => n);
  isQueued.fill(1);
  while (queue.length > 0) {
    const next: number[] = [];
    for (const at of queue) {
      isQueued[at] = 0;
      const [y, z] = [at % ny, Math.floor(at / ny)];
      const isRim = y === 0 || z === 0 || y === ny - 1 || z === nz - 1;
      const row = at * words;
      const beside = [
        y > 0 ? row - words : -1,
        y < ny - 1 ? row + words : -1,
        z > 0 ? row - ny * words : -1,
        z < nz - 1 ? row + ny * words : -1,
      ];
      let hasChanged = false;
      // Twice: what comes from the right reaches what lies left of it.
      for (const isBack of [false, true]) {
        // The rim at both ends of the row is open.
        let carry = 1;
        for (let k = 0; k < words; k++) {
          const n = isBack ? words - 1 - k : k;
          const free = ~walls.bits[row + n]! & (n === words - 1 ? last : -1);
          let wet = flood.bits[row + n]!;
          if (isRim) wet |= free;
          else for (const other of beside) if (other >= 0) wet |= flood.bits[other + n]!;
          if (carry) wet |= isBack ? (n === words - 1 ? highestOf(last) : 1 << 31) : 1;
          wet = spread(wet & free, free);
          if (wet !== flood.bits[row + n]! >> 0) {
            flood.bits[row + n] = wet;
            hasChanged = true;
          }
          carry = isBack ? wet & 1 : wet >>> 31;
        }
      }
      if (!hasChanged) continue;
      for (const [other, is] of [
        [at - 1, y > 0],
        [at + 1, y < ny - 1],
        [at - ny, z > 0],
        [at + ny, z < nz - 1],
      ] as const)
        if (is && !isQueued[other]) {
          isQueued[other] = 1;
          next.push(other);
        }
    }
    queue = next;
  }
  return flood;
}

function highestOf(mask: number): number {
  return mask === -1 ? 1 << 31 : (mask >>> 1) + 1;
}

/** Fills the runs of free cubes in a word that hold a wet one. */
function spread(wet: number, free: number): number {
  let up = wet;
  let down = wet;
  let through = free;
  let back = free;
  for (let by = 1; by < 32; by *= 2) {
    up |= through & (up << by);
    down |= back & (down >>> by);
    through &= through << by;
    back &= back >>> by;
  }
  return up | down;
}
