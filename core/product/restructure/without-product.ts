import type { Part21File } from '#core/files/part21/file';
import { splice } from '#core/files/part21/splice';
import { Going } from './going';
import { headsOf } from './heads';

/** The file without a product that nothing places, and that has neither bodies nor components: all that is about it goes along. */
export function withoutProduct(file: Part21File, definition: number): Uint8Array {
  const head = headsOf(file, [definition]).get(definition)!;
  const going = new Going(file);
  going.go(definition);
  going.go(head.formation);
  going.go(head.product);
  going.goOrphans();
  return splice(
    file.bytes,
    going.edits().sort((a, b) => a.start - b.start),
  );
}
