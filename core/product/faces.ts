import type { Part21File } from '#core/files/part21/file';
import { referenceOf, referencesOf } from '#core/files/part21/parameters';

/** A body by its number in the file. */
interface BodyEntity {
  id: number;
  kind: 'solid' | 'surface';
}

/** Shells of a body, the outer one first, in the order in which the kernel gives their faces. */
export function shellsOf(file: Part21File, { id, kind }: BodyEntity): number[] {
  const parameters = file.parameters(id);
  const outer = parameters?.[1];
  const shells =
    kind === 'solid' ? [referenceOf(outer) ?? -1, ...referencesOf(parameters?.[2])] : referencesOf(outer);
  return shells.map((shell) =>
    file.typeOf(shell)?.startsWith('ORIENTED_') ? (referenceOf(file.parameters(shell)?.[2]) ?? shell) : shell,
  );
}

/** Faces of a body in the order of its shells: how the kernel counts them, unless it has to mend the body. */
export function facesOf(file: Part21File, body: BodyEntity): number[] {
  return shellsOf(file, body).flatMap((shell) => referencesOf(file.parameters(shell)?.[1]));
}
