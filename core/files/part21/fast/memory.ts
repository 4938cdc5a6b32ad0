import { INDEXER_WASM } from './index-instances.wasm';

/** What the program in index-instances.as.ts offers; all arguments are addresses and numbers. */
interface Exports {
  indexSection(...given: number[]): number;
  stoppedAt(): number;
  instanceCount(): number;
  keywordCount(): number;
  countMissing(...given: number[]): number;
  findReferences(...given: number[]): number;
  referenceCount(): number;
  nextUnbounded(from: number, end: number): number;
}

/** How a run of the program ends. */
export const DONE = 0;
export const FULL = 2;

/** Behind the input stand NULs, so that 16 bytes can be read at any place of it. */
export const PADDING = 64;
/** Files beyond this are read by code that needs no copy of them. */
export const MOST_BYTES = 512 * 1024 * 1024;

const PAGE = 65_536;
/** Memory beyond this is given back after use. */
const KEPT_BYTES = 96 * 1024 * 1024;

let program: WebAssembly.Module | undefined;
let kept: { memory: WebAssembly.Memory; run: Exports } | undefined;

/** The program with a memory of at least so many bytes, which it shares with the next that ask. */
export function instanceWith(bytes: number): { memory: WebAssembly.Memory; run: Exports } {
  program ??= new WebAssembly.Module(Buffer.from(INDEXER_WASM, 'base64'));
  const pages = Math.ceil(bytes / PAGE);
  let current = kept;
  if (!current) {
    const memory = new WebAssembly.Memory({ initial: pages });
    const { exports } = new WebAssembly.Instance(program, { env: { memory } });
    current = { memory, run: exports as unknown as Exports };
  } else if (current.memory.buffer.byteLength < bytes)
    current.memory.grow(pages - current.memory.buffer.byteLength / PAGE);
  kept = current.memory.buffer.byteLength <= KEPT_BYTES ? current : undefined;
  return current;
}

export function align(address: number): number {
  return (address + 15) & ~15;
}
