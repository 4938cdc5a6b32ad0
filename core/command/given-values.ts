import type { KeptFace } from '#core/geometry/reduce/choices';
import { Refusal } from '#core/refusal';

/** `2%`, or `2`. */
export function percent(text: string): number {
  const value = Number(text.replace(/\s*%$/, ''));
  if (text.trim() === '' || !(value >= 0 && value <= 100))
    throw new Refusal('It is a percentage, such as 2%.');
  return value;
}

/** `parts/flange.stp#123`, or `#123` for a face of the file itself. */
export function face(written: string): KeptFace {
  const [, file = '', id] = /^(.*?)#?(\d+)$/.exec(written) ?? [];
  if (id === undefined) throw new Refusal(`${written} is no face: write FILE#123.`);
  return { file, face: Number(id), name: '', trace: null };
}

/** A length above 0. */
export function millimetres(text: string): number {
  const value = Number(text);
  if (!(value > 0)) throw new Refusal('It is a length in mm.');
  return value;
}
