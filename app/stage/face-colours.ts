import * as THREE from 'three';
import type { Colour, FaceColours } from '#core/product/appearance';

/** What the file gives no colour. */
const PLAIN = '#b4b8ba';

export function colourOf(colour: Colour | null): THREE.Color {
  return new THREE.Color(colour ?? PLAIN);
}

/**
 * Gives the vertices of a mesh the colours of their faces. The mesh has its faces in the order of the file's shells
 * unless the kernel had to mend the body, and then their number tells.
 * @returns false, with nothing coloured, when the faces of the mesh are not those of the file
 */
export function colourFaces(
  geometry: THREE.BufferGeometry,
  colour: Colour | null,
  { of, others }: FaceColours,
): boolean {
  const groups: number[] = geometry.userData.faceGroups ?? [];
  const { index } = geometry;
  if (!index || groups.length !== 2 * of) return false;
  if (geometry.hasAttribute('color')) return true;
  const colours = new THREE.Float32BufferAttribute(3 * geometry.getAttribute('position').count, 3);
  const base = colourOf(colour);
  for (let vertex = 0; vertex < colours.count; vertex++) colours.setXYZ(vertex, base.r, base.g, base.b);
  for (const other of others) {
    const { r, g, b } = colourOf(other.colour);
    for (const face of other.faces) {
      const [first, count] = [groups[2 * face]!, groups[2 * face + 1]!];
      for (let at = first; at < first + count; at++) colours.setXYZ(index.getX(at), r, g, b);
    }
  }
  geometry.setAttribute('color', colours);
  return true;
}

/** Lets a material draw the colours of faces where an instance is white, and the instance's own where it is lit. */
export function showFaceColours(material: THREE.Material): void {
  material.vertexColors = true;
  material.onBeforeCompile = (shader) => {
    shader.vertexShader = shader.vertexShader.replace(
      '#include <color_vertex>',
      `#include <color_vertex>
      #ifdef USE_INSTANCING_COLOR
        if (dot(instanceColor.rgb, vec3(1.0)) < 2.999) vColor.rgb = instanceColor.rgb;
      #endif`,
    );
  };
}
