import type { Part21File } from '#core/files/part21/file';
import { splice } from '#core/files/part21/splice';
import { Going } from './going';
import { headsOf } from './heads';

/** The file without products that nothing places, and that have neither bodies nor components: all that is about them goes along. */
export function withoutProducts(file: Part21File, definitions: readonly number[]): Uint8Array {
  const going = new Going(file);
  for (const { definition, formation, product } of headsOf(file, definitions).values())
    for (const id of [definition, formation, product]) going.go(id);
  going.goOrphans();
  return splice(
    file.bytes,
    going.edits().sort((a, b) => a.start - b.start),
  );
}
