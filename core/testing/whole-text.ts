import { expect } from 'vitest';
import { Part21File } from '#core/files/part21/file';

/** Every reference of a file leads to an instance, and nothing is defined twice. */
export function expectWhole(bytes: Uint8Array): void {
  const text = Buffer.from(bytes).toString('latin1');
  const file = Part21File.read(bytes);
  for (const [, id] of text.replace(/'(?:[^']|'')*'/g, '').matchAll(/#(\d+)/g))
    expect(file.has(Number(id))).toBe(true);
  for (const id of file.index.ids.subarray(0, file.index.count)) expect(file.instance(id)).toBeDefined();
}
