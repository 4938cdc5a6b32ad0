import { densityOf } from '#core/product/materials';
import type { SplitBody } from '#server/views/operations/split-view';
import { plural } from '../../ui/format';
import type { Measures } from '../../ui/measures/measures';

/** Volume, mass, box and faces of one body; volume and mass of several together. '' for none. */
export function factsInWords(
  bodies: readonly SplitBody[],
  materials: { readonly [body: string]: string },
  { box, mass, volume }: Measures,
): string {
  const [first] = bodies;
  if (!first) return '';
  if (first.error && bodies.length === 1) return first.error;
  if (bodies.some((body) => body.volume === null)) return 'Not measured yet';
  const whole = bodies.reduce((sum, body) => sum + body.volume!, 0);
  const weights = bodies.map((body) => {
    const density = densityOf(materials[body.id]);
    return density === null ? null : body.volume! * density;
  });
  const weight = weights.every((own) => own !== null)
    ? weights.reduce((sum: number, own) => sum + own!, 0)
    : null;
  const parts = [
    ...(bodies.length > 1 ? [plural(bodies.length, 'body', 'bodies')] : []),
    ...(whole > 0 ? [volume(whole)] : ['open surface']),
    ...(weight !== null && whole > 0 ? [mass(weight / 1e6)] : []),
    ...(bodies.length === 1 && first.size ? [box(first.size)] : []),
    ...(bodies.length === 1 && first.faces !== null ? [plural(first.faces, 'face')] : []),
    ...(bodies.length === 1 && first.doubt ? [first.doubt] : []),
  ];
  return parts.join(', ');
}
