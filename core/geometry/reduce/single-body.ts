import { NO_TIME } from '#core/files/part21/write';
import { writeBodyFile } from '#core/geometry/bodies/body-file';
import { SourcePart } from '#core/geometry/bodies/source-part';
import { IDENTITY } from '#core/product/matrix';
import type { Body } from '#core/product/structure';

/** A file of one body only, with its styles and the numbers that it had. */
export function singleBody(part: SourcePart, body: Body): SourcePart {
  const { id, name } = part.product;
  const text = part.textOf(body);
  const bytes = writeBodyFile(part, [text], {
    id,
    name,
    use: 'made',
    styles: true,
    origin: IDENTITY,
    fileName: '',
    timeStamp: NO_TIME,
    source: null,
  });
  return new SourcePart(part.path, bytes);
}
