import { parseDocument } from 'htmlparser2';
import type { Vector3 } from '#core/product/matrix';

/** A joint as a URDF file has it: lengths in metres, in the frame of its parent link. */
export interface UrdfJoint {
  name: string;
  type: string;
  parent: string;
  child: string;
  origin: Vector3;
  axis: Vector3;
  limit: [number, number] | null;
}

/** Reads links and joints of a URDF file. */
export function readUrdf(text: string): {
  name: string;
  links: { name: string; mesh: string }[];
  joints: UrdfJoint[];
} {
  const document = parseDocument(text, { xmlMode: true });
  interface Element {
    name?: string;
    attribs?: { [name: string]: string };
    children?: Element[];
  }
  const all = (element: Element, name: string): Element[] =>
    (element.children ?? []).flatMap((child) => [
      ...(child.name === name ? [child] : []),
      ...all(child, name),
    ]);
  const triple = (words: string | undefined, otherwise: Vector3): Vector3 =>
    words ? (words.trim().split(/\s+/).map(Number) as unknown as Vector3) : otherwise;
  const root = document as unknown as Element;
  const first = (element: Element, name: string) => all(element, name)[0]?.attribs;
  return {
    name: first(root, 'robot')?.name ?? '',
    links: all(root, 'link').map((link) => ({
      name: link.attribs?.name ?? '',
      mesh: first(link, 'mesh')?.filename ?? '',
    })),
    joints: all(root, 'joint').map((joint): UrdfJoint => {
      const limit = first(joint, 'limit');
      return {
        name: joint.attribs?.name ?? '',
        type: joint.attribs?.type ?? '',
        parent: first(joint, 'parent')?.link ?? '',
        child: first(joint, 'child')?.link ?? '',
        origin: triple(first(joint, 'origin')?.xyz, [0, 0, 0]),
        axis: triple(first(joint, 'axis')?.xyz, [1, 0, 0]),
        limit: limit ? [Number(limit.lower), Number(limit.upper)] : null,
      };
    }),
  };
}
