/** A chord is overstepped by as much when the kernel meshes a body. */
export const OVERSTEPPED = 2.2;
/** Facets may turn by so much from one to the next, radians: what they lie off is bound by the chord. */
export const ANGLE = 1.1;
