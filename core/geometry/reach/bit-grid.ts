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
    this.orAlongY(before);
    this.orAlongZ(before);
  }

  /** Every cube of the 3 x 3 x 3 around one that is set becomes set. */
  growByCubes(): void {
    this.growAlongX();
    this.orAlongY(this.bits.slice());
    this.orAlongZ(this.bits.slice());
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

  /** Takes over the rows of `before` that lie beside each other along y. */
  private orAlongY(before: Uint32Array): void {
    const { words, ny, nz } = this;
    for (let z = 0; z < nz; z++) this.orFrom(before, this.row(0, z), this.row(0, z) + ny * words, words);
  }

  /** The same along z. */
  private orAlongZ(before: Uint32Array): void {
    this.orFrom(before, 0, this.bits.length, this.ny * this.words);
  }

  /** Takes over the words of `before` that lie a step before and after, within a stretch. */
  private orFrom(before: Uint32Array, from: number, to: number, step: number): void {
    const { bits } = this;
    for (let n = from + step; n < to; n++) bits[n]! |= before[n - step]!;
    for (let n = from; n < to - step; n++) bits[n]! |= before[n + step]!;
  }
}

/**
 * Everything that can be reached across sides from the rim of the box without entering what is set. Row after row: a word at a time, and
 * a row again when one beside it has changed.
 */
export function floodFromRim(walls: BitGrid): BitGrid {
  const { nx, ny, nz, words } = walls;
  const flood = new BitGrid(nx, ny, nz);
  // As signed numbers, which is what operators on bits give.
  const [closed, wetBits] = [new Int32Array(walls.bits.buffer), new Int32Array(flood.bits.buffer)];
  const last = nx & 31 ? (1 << (nx & 31)) - 1 : -1;
  const rightEnd = highestOf(last);
  const [stepY, stepZ] = [words, ny * words];
  const rows = ny * nz;
  // A ring: a row is in it once at most.
  const queue = Int32Array.from({ length: rows }, (_, n) => n);
  const isQueued = new Uint8Array(rows).fill(1);
  let head = 0;
  let waiting = rows;
  const enqueue = (row: number) => {
    if (isQueued[row]) return;
    isQueued[row] = 1;
    const end = head + waiting++;
    queue[end < rows ? end : end - rows] = row;
  };
  while (waiting > 0) {
    const at = queue[head]!;
    head = head + 1 === rows ? 0 : head + 1;
    waiting--;
    isQueued[at] = 0;
    const y = at % ny;
    const z = (at - y) / ny;
    const isRim = y === 0 || z === 0 || y === ny - 1 || z === nz - 1;
    const row = at * words;
    let hasChanged = false;
    // The rim at both ends of the row is open.
    let carry = 1;
    for (let k = 0, n = row; k < words; k++, n++) {
      const free = k === words - 1 ? ~closed[n]! & last : ~closed[n]!;
      const before = wetBits[n]!;
      let wet = before | carry;
      if (isRim) wet = free;
      else wet |= wetBits[n - stepY]! | wetBits[n + stepY]! | wetBits[n - stepZ]! | wetBits[n + stepZ]!;
      wet &= free;
      if (wet !== 0 && wet !== before) wet = spread(wet, free);
      if (wet !== before) {
        wetBits[n] = wet;
        hasChanged = true;
      }
      carry = wet >>> 31;
    }
    // And back: what comes from the right reaches what lies left of it.
    carry = rightEnd;
    for (let k = words - 1, n = row + k; k >= 0; k--, n--) {
      const before = wetBits[n]!;
      if (carry & ~before) {
        const free = k === words - 1 ? ~closed[n]! & last : ~closed[n]!;
        if (carry & free) {
          wetBits[n] = spread(before | carry, free);
          hasChanged = true;
        }
      }
      carry = wetBits[n]! & 1 ? 1 << 31 : 0;
    }
    if (!hasChanged) continue;
    if (y > 0) enqueue(at - 1);
    if (y < ny - 1) enqueue(at + 1);
    if (z > 0) enqueue(at - ny);
    if (z < nz - 1) enqueue(at + ny);
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
