/** Open formats for meshes. */
export const MESH_FORMATS = ['3mf', 'stl', 'glb'] as const;
export type MeshFormat = (typeof MESH_FORMATS)[number];
