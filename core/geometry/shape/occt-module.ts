import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';

let compiled: Promise<WebAssembly.Module> | undefined;

/** The kernel's WebAssembly, compiled once for all threads of this process: what one of them makes faster is faster for all. */
export function compiledOcct(): Promise<WebAssembly.Module> {
  compiled ??= readFile(createRequire(import.meta.url).resolve('replicad-opencascadejs/wasm')).then((bytes) =>
    WebAssembly.compile(bytes),
  );
  return compiled;
}
