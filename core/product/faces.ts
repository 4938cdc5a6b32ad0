import type { Part21File } from '#core/part21/file';
import { referenceOf, referencesOf } from '#core/part21/parameters';
import type { Body } from './structure';

/** Shells of a body, the outer one first, in the order in which the kernel gives their faces. */
export function shellsOf(file: Part21File, { id, kind }: Pick<Body, 'id' | 'kind'>): number[] {
  const parameters = file.parameters(id);
  const outer = parameters?.[1];
  const shells =
    kind === 'solid' ? [referenceOf(outer) ?? -1, ...referencesOf(parameters?.[2])] : referencesOf(outer);
  return shells.map((shell) =>
    file.typeOf(shell)?.startsWith('ORIENTED_') ? (referenceOf(file.parameters(shell)?.[2]) ?? shell) : shell,
  );
}

/** Faces of a body in the order of its shells: how the kernel counts them, unless it has to mend the body. */
export function facesOf(file: Part21File, body: Pick<Body, 'id' | 'kind'>): number[] {
  return shellsOf(file, body).flatMap((shell) => referencesOf(file.parameters(shell)?.[1]));
}
