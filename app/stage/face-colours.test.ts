import * as THREE from 'three';
import { describe, expect, it } from 'vitest';
import { colourFaces, colourOf } from './face-colours';

/** Two faces of one triangle each, with points of their own. */
function mesh(): THREE.BufferGeometry {
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.Float32BufferAttribute(new Array(18).fill(0), 3));
  geometry.setIndex([0, 1, 2, 3, 4, 5]);
  geometry.userData.faceGroups = [0, 3, 3, 3];
  return geometry;
}
const coloursOf = (geometry: THREE.BufferGeometry) => {
  const colours = geometry.getAttribute('color');
  return Array.from({ length: colours.count }, (_, n) => {
    const at = [colours.getX(n), colours.getY(n), colours.getZ(n)] as const;
    return `#${new THREE.Color(...at).getHexString()}`;
  });
};

describe('colours of single faces', () => {
  it('go to the points of those faces, the body’s to all others', () => {
    const geometry = mesh();
    expect(colourFaces(geometry, '#336699', { of: 2, others: [{ colour: '#ff8800', faces: [1] }] })).toBe(
      true,
    );
    expect(coloursOf(geometry)).toEqual([...Array(3).fill('#336699'), ...Array(3).fill('#ff8800')]);
  });

  it('may be none for a face of a coloured body, and the other way round', () => {
    const plain = `#${colourOf(null).getHexString()}`;
    const geometry = mesh();
    colourFaces(geometry, '#336699', { of: 2, others: [{ colour: null, faces: [0] }] });
    expect(new Set(coloursOf(geometry))).toEqual(new Set([plain, '#336699']));
  });

  it('are left out when the kernel made other faces than the file has', () => {
    const geometry = mesh();
    expect(colourFaces(geometry, null, { of: 3, others: [{ colour: '#ff8800', faces: [2] }] })).toBe(false);
    expect(geometry.hasAttribute('color')).toBe(false);
  });
});
