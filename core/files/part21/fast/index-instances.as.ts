// AssemblyScript, compiled by `npm run build:indexer` into index-instances.wasm.ts.
//
// The plain case of InstanceIndexer.indexSection, 16 bytes at a time. Whatever is not plain (an error, a NUL, a control
// directive between tokens, more entity types than the table takes) ends with NOT_PLAIN, and the caller reads the
// section with the TypeScript indexer instead, which knows what to say about it.

const DONE: i32 = 0;
const NOT_PLAIN: i32 = 1;
const FULL: i32 = 2;

const TABLE_SLOTS: u32 = 2048;
const MOST_KEYWORDS: u32 = 1000;

const SEMICOLONS = i8x16.splat(0x3b);
const APOSTROPHES = i8x16.splat(0x27);
const SLASHES = i8x16.splat(0x2f);
const HASHES = i8x16.splat(0x23);
const ZEROS = i8x16.splat(0);

let stopped: usize = 0;
let instances: u32 = 0;
let keywords: u32 = 0;

export function stoppedAt(): usize {
  return stopped;
}

export function instanceCount(): u32 {
  return instances;
}

/** Keywords are numbered from 1. */
export function keywordCount(): u32 {
  return keywords;
}

// @ts-ignore: decorator
@inline
function isWord(byte: u32): bool {
  const letter = byte & 0xdf;
  return (letter >= 0x41 && letter <= 0x5a) || (byte >= 0x30 && byte <= 0x39) || byte == 0x5f || byte == 0x2d || byte == 0x21;
}

function skipBlank(from: usize, end: usize): usize {
  let at = from;
  while (at < end) {
    const byte = load<u8>(at);
    if (byte <= 0x20 && byte != 0) at++;
    else if (byte == 0x2f && load<u8>(at + 1) == 0x2a) at = endOfComment(at, end);
    else break;
  }
  return at;
}

function endOfComment(open: usize, end: usize): usize {
  for (let at = open + 2; at + 1 < end; at++) if (load<u8>(at) == 0x2a && load<u8>(at + 1) == 0x2f) return at + 2;
  return end;
}

/** The next `;`, apostrophe, `/` or NUL. The caller keeps NULs behind the end. */
// @ts-ignore: decorator
@inline
function nextStop(from: usize): usize {
  let at = from;
  while (true) {
    const bytes = v128.load(at);
    const found = v128.or(
      v128.or(i8x16.eq(bytes, SEMICOLONS), i8x16.eq(bytes, APOSTROPHES)),
      v128.or(i8x16.eq(bytes, SLASHES), i8x16.eq(bytes, ZEROS)),
    );
    const mask = i8x16.bitmask(found);
    if (mask != 0) return at + ctz(mask);
    at += 16;
  }
}

/** The apostrophe that closes the string opened at `open`; 0 when there is none. */
function endOfString(open: usize, end: usize): usize {
  let at = open + 1;
  while (true) {
    const bytes = v128.load(at);
    const mask = i8x16.bitmask(i8x16.eq(bytes, APOSTROPHES));
    if (mask == 0) {
      at += 16;
      if (at >= end) return 0;
      continue;
    }
    at += ctz(mask);
    if (at >= end) return 0;
    if (load<u8>(at + 1) != 0x27) return at;
    at += 2;
  }
}

/**
 * @param from, end the bytes of the section and what follows, in this memory; NULs stand behind `end`
 * @param ids, starts, contents, ends, types arrays for `capacity` instances; offsets are relative to `base`
 * @param table TABLE_SLOTS numbers of 16 bits, all 0
 * @param words offset and length of each keyword, two numbers of 32 bits, from number 1 on
 * @param marks where references are marked, `limit` bits that are all 0; 0 when they are not
 */
export function indexSection(
  base: usize,
  from: usize,
  end: usize,
  ids: usize,
  starts: usize,
  contents: usize,
  ends: usize,
  types: usize,
  capacity: u32,
  table: usize,
  words: usize,
  marks: usize,
  limit: u32,
): i32 {
  let at = from;
  let n: u32 = 0;
  keywords = 0;
  while (true) {
    // 1. `#number=`
    if (load<u8>(at) == 0x0a) at++;
    if (load<u8>(at) != 0x23) {
      at = skipBlank(at, end);
      if (at >= end || load<u8>(at) != 0x23) break;
    }
    const start = at++;
    const firstDigit = at;
    let id: u64 = 0;
    let digit: u32 = <u32>load<u8>(at) - 0x30;
    while (digit <= 9) {
      id = id * 10 + digit;
      digit = <u32>load<u8>(++at) - 0x30;
    }
    if (at == firstDigit || at - firstDigit > 10 || id > 0xffffffff) return NOT_PLAIN;
    if (load<u8>(at) != 0x3d) {
      at = skipBlank(at, end);
      if (load<u8>(at) != 0x3d) return NOT_PLAIN;
    }
    at++;
    if (load<u8>(at) <= 0x20 || load<u8>(at) == 0x2f) at = skipBlank(at, end);

    // 2. The keyword, or `(`
    const content = at;
    let type: u32 = 0;
    if (load<u8>(at) != 0x28) {
      if (!isWord(load<u8>(at))) return NOT_PLAIN;
      let slot = ((load<u32>(at) * 0x9e3779b1) >>> 16) & (TABLE_SLOTS - 1);
      while (true) {
        type = <u32>load<u16>(table + (slot << 1));
        if (type == 0) {
          type = addKeyword(base, at, words);
          if (type == 0) return NOT_PLAIN;
          store<u16>(table + (slot << 1), <u16>type);
          break;
        }
        const word = words + ((<usize>type) << 3);
        if (sameWord(at, base + load<u32>(word), load<u32>(word, 4))) break;
        slot = (slot + 1) & (TABLE_SLOTS - 1);
      }
      at += load<u32>(words + ((<usize>type) << 3), 4);
    }

    // 3. The closing `;`
    while (true) {
      at = marks == 0 ? nextStop(at) : nextStopOrReference(at);
      const byte = load<u8>(at);
      if (byte == 0x3b) break;
      if (byte == 0x23) at = markReference(at, marks, limit);
      else if (byte == 0x27) {
        const close = endOfString(at, end);
        if (close == 0) return NOT_PLAIN;
        at = close + 1;
      } else if (byte == 0) return NOT_PLAIN;
      else if (load<u8>(at + 1) == 0x2a) at = endOfComment(at, end);
      else at++;
    }
    if (at >= end) return NOT_PLAIN;
    at++;

    if (n == capacity) return FULL;
    store<u32>(ids + (n << 2), <u32>id);
    store<u32>(starts + (n << 2), <u32>(start - base));
    store<u32>(contents + (n << 2), <u32>(content - base));
    store<u32>(ends + (n << 2), <u32>(at - base));
    store<u16>(types + (n << 1), <u16>type);
    n++;
  }
  instances = n;
  stopped = at - base;
  return DONE;
}

// @ts-ignore: decorator
@inline
function sameWord(at: usize, known: usize, length: u32): bool {
  let n: u32 = 0;
  for (; n + 8 <= length; n += 8) if (load<u64>(at + n) != load<u64>(known + n)) return false;
  for (; n < length; n++) if (load<u8>(at + n) != load<u8>(known + n)) return false;
  return !isWord(load<u8>(at + length));
}

/** Number of the keyword at an offset: the one it has under other first bytes, or a new one; 0 when there are too many. */
function addKeyword(base: usize, at: usize, words: usize): u32 {
  let length: u32 = 0;
  while (isWord(load<u8>(at + length))) length++;
  for (let known: u32 = 1; known <= keywords; known++) {
    const word = words + ((<usize>known) << 3);
    if (load<u32>(word, 4) == length && sameWord(at, base + load<u32>(word), length)) return known;
  }
  if (keywords == MOST_KEYWORDS) return 0;
  keywords++;
  const word = words + ((<usize>keywords) << 3);
  store<u32>(word, <u32>(at - base));
  store<u32>(word, length, 4);
  return keywords;
}

/** The next `#`, apostrophe, `/` or NUL. */
// @ts-ignore: decorator
@inline
function nextMark(from: usize): usize {
  let at = from;
  while (true) {
    const bytes = v128.load(at);
    const found = v128.or(
      v128.or(i8x16.eq(bytes, HASHES), i8x16.eq(bytes, APOSTROPHES)),
      v128.or(i8x16.eq(bytes, SLASHES), i8x16.eq(bytes, ZEROS)),
    );
    const mask = i8x16.bitmask(found);
    if (mask != 0) return at + ctz(mask);
    at += 16;
  }
}

let references: u32 = 0;

export function referenceCount(): u32 {
  return references;
}

/**
 * Every reference of `count` instances, between what stands in `contents` and in `ends`.
 * @param positions by number of an instance, up to `highest`: its position, counted from 1; 0 for none
 * @param first, targets, starts, lengths what is found: for each instance its first reference; for each reference the
 * position it leads to or -1, the offset of its `#`, and its length; arrays for `capacity` references
 */
export function findReferences(
  base: usize,
  contents: usize,
  ends: usize,
  count: u32,
  positions: usize,
  highest: u32,
  first: usize,
  targets: usize,
  starts: usize,
  lengths: usize,
  capacity: u32,
): i32 {
  let found: u32 = 0;
  for (let n: u32 = 0; n < count; n++) {
    store<u32>(first + (n << 2), found);
    const end = base + load<u32>(ends + (n << 2));
    let at = base + load<u32>(contents + (n << 2));
    while (true) {
      at = nextMark(at);
      if (at >= end) break;
      const byte = load<u8>(at);
      if (byte == 0x27) {
        const close = endOfString(at, end);
        if (close == 0) break;
        at = close + 1;
        continue;
      }
      if (byte == 0x2f) {
        at = load<u8>(at + 1) == 0x2a ? endOfComment(at, end) : at + 1;
        continue;
      }
      const start = at++;
      if (byte == 0) continue;
      let id: u64 = 0;
      let digit: u32 = <u32>load<u8>(at) - 0x30;
      while (digit <= 9) {
        id = id * 10 + digit;
        digit = <u32>load<u8>(++at) - 0x30;
      }
      const length = at - start;
      if (length == 1) continue;
      if (length > 11) return NOT_PLAIN;
      if (found == capacity) return FULL;
      const target: i32 = id <= <u64>highest ? load<i32>(positions + (<usize>id << 2)) - 1 : -1;
      store<i32>(targets + (found << 2), target);
      store<u32>(starts + (found << 2), <u32>(start - base));
      store<u8>(lengths + found, <u8>length);
      found++;
    }
  }
  store<u32>(first + (count << 2), found);
  references = found;
  return DONE;
}

/** The next `;`, apostrophe, `/`, NUL or `#`. */
// @ts-ignore: decorator
@inline
function nextStopOrReference(from: usize): usize {
  let at = from;
  while (true) {
    const bytes = v128.load(at);
    const found = v128.or(
      v128.or(v128.or(i8x16.eq(bytes, SEMICOLONS), i8x16.eq(bytes, APOSTROPHES)), i8x16.eq(bytes, HASHES)),
      v128.or(i8x16.eq(bytes, SLASHES), i8x16.eq(bytes, ZEROS)),
    );
    const mask = i8x16.bitmask(found);
    if (mask != 0) return at + ctz(mask);
    at += 16;
  }
}

/**
 * Marks the number behind a `#`, eight digits at a time.
 * @param marks a bit for each number below `limit`; numbers beyond it are marked together as number 0, which no instance has
 * @returns the offset after its last digit
 */
// @ts-ignore: decorator
@inline
function markReference(hash: usize, marks: usize, limit: u64): usize {
  const digits = load<u64>(hash + 1) ^ 0x3030303030303030;
  const others = ((digits + 0x7676767676767676) | digits) & 0x8080808080808080;
  if (others == 0) {
    let long = hash + 1;
    while (<u32>load<u8>(long) - 0x30 <= 9) long++;
    store<u8>(marks, load<u8>(marks) | 1);
    return long;
  }
  const length = <u32>(ctz(others) >> 3);
  if (length == 0) return hash + 1;
  let value = digits << ((8 - length) << 3);
  value = (value * 2561) >> 8;
  value = ((value & 0x00ff00ff00ff00ff) * 6553601) >> 16;
  value = ((value & 0x0000ffff0000ffff) * 42949672960001) >> 32;
  if (value >= limit) value = 0;
  const byte = marks + <usize>(value >> 3);
  store<u8>(byte, load<u8>(byte) | (<u8>1 << <u8>(value & 7)));
  return hash + 1 + length;
}

/**
 * How many numbers below `limit` were marked and belong to no instance; number 0 stands for all beyond.
 * @param ids of `count` instances
 * @param marks of which those of instances are taken back
 * @param limit a multiple of 64
 */
export function countMissing(ids: usize, count: u32, marks: usize, limit: u32): u32 {
  for (let n: u32 = 0; n < count; n++) {
    const id = load<u32>(ids + (n << 2));
    if (id >= limit) continue;
    const byte = marks + (id >> 3);
    store<u8>(byte, load<u8>(byte) & ~(<u8>1 << <u8>(id & 7)));
  }
  let missing: u32 = 0;
  for (let at = marks, end = marks + (limit >> 3); at < end; at += 8) missing += <u32>popcnt(load<u64>(at));
  return missing;
}

const LARGE_ES = i8x16.splat(0x45);
const SMALL_ES = i8x16.splat(0x65);
const LARGE_NS = i8x16.splat(0x4e);
const LARGE_IS = i8x16.splat(0x49);
const CASE = i8x16.splat(0x20);
const POINT = i8x16.splat(0x2e);
const NINE_LESS_POINT = i8x16.splat(0x0b);
const OPEN = i8x16.splat(0x28);
const MINUS_LESS_OPEN = i8x16.splat(0x05);

/**
 * The next place that looks like a number which is not finite, or of three digits in its exponent: an `E` behind a digit or a point
 * with `100` or more behind it, or `NAN`, `INF`, `IND` where a parameter begins. It may stand in a string.
 * @param from, end bytes in this memory; what stands before `from` can be read
 * @returns where that letter stands; `end` when there is none
 */
export function nextUnbounded(from: usize, end: usize): usize {
  for (let at = from; at < end; at += 16) {
    const bytes = v128.load(at);
    const before = v128.load(at - 1);
    const exponents = v128.and(
      v128.or(i8x16.eq(bytes, LARGE_ES), i8x16.eq(bytes, SMALL_ES)),
      i8x16.le_u(i8x16.sub(before, POINT), NINE_LESS_POINT),
    );
    const folded = v128.andnot(bytes, CASE);
    const words = v128.and(
      v128.or(i8x16.eq(folded, LARGE_NS), i8x16.eq(folded, LARGE_IS)),
      i8x16.le_u(i8x16.sub(before, OPEN), MINUS_LESS_OPEN),
    );
    let mask = <u32>i8x16.bitmask(v128.or(exponents, words));
    while (mask != 0) {
      const found = at + <usize>ctz(mask);
      if (found >= end) return end;
      if (isUnbounded(found)) return found;
      mask &= mask - 1;
    }
  }
  return end;
}

// @ts-ignore: decorator
@inline
function isUnbounded(at: usize): bool {
  const letter = load<u8>(at) & 0xdf;
  if (letter == 0x45) {
    const digits = load<u8>(at + 1) == 0x2b ? at + 2 : at + 1;
    return isDigit(load<u8>(digits)) && load<u8>(digits) != 0x30 && isDigit(load<u8>(digits + 1)) && isDigit(load<u8>(digits + 2));
  }
  const second = load<u8>(at + 1) & 0xdf;
  const third = load<u8>(at + 2) & 0xdf;
  if (letter == 0x4e) return second == 0x41 && third == 0x4e;
  return second == 0x4e && (third == 0x46 || third == 0x44);
}

// @ts-ignore: decorator
@inline
function isDigit(byte: u32): bool {
  return byte - 0x30 <= 9;
}
