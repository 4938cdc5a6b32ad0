/** Files of triangles that are drawn as they are, whatever of them is text and what is binary. */
export type MeshKind = 'stl' | 'ply' | 'obj' | '3mf' | 'gltf';
