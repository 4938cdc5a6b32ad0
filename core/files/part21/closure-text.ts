import { eachReference } from './each-reference';
import type { Part21File } from './file';
import { endOfString } from './parameters';

const APOSTROPHE = 0x27;

/**
 * Everything that an instance needs as one text that does not depend on how instances are numbered, ordered or labelled: equal texts are the
 * same geometry to the last digit.
 */
export function closureText(file: Part21File, start: number): string {
  const numbers = new Map<number, number>([[start, 1]]);
  const lines: string[] = [];
  for (const id of numbers.keys()) {
    const range = file.contentOf(id);
    if (!range) continue;
    let text = '';
    let from = range.content;
    const take = (to: number) => {
      text += unlabelled(file.bytes, from, to);
    };
    eachReference(file.bytes, range.content, range.end, (referred, begin, end) => {
      take(begin);
      if (!numbers.has(referred)) numbers.set(referred, numbers.size + 1);
      text += `#${numbers.get(referred)}`;
      from = end;
    });
    take(range.end);
    lines.push(text);
  }
  return lines.join('\n');
}

function unlabelled(bytes: Uint8Array, from: number, to: number): string {
  let text = '';
  for (let at = from; at < to; at++) {
    if (bytes[at] === APOSTROPHE) {
      const close = endOfString(bytes, at, to);
      text += "''";
      at = close < 0 ? to : close;
    } else if (bytes[at]! > 0x20) text += String.fromCharCode(bytes[at]!);
  }
  return text;
}
