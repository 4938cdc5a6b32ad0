/** `#rrggbb`, sRGB as written in the file. */
export type Colour = string;

/** Faces of a body that have another colour than most of it. */
export interface FaceColours {
  /** How many faces the body has. */
  of: number;
  /** By colour: places of the faces in the order of the body's shells. */
  others: { colour: Colour | null; faces: number[] }[];
}

/** How the faces of a body are coloured. */
export interface Appearance {
  /** Of all faces but those in `faceColours`; null when the file says none. */
  colour: Colour | null;
  /** Left out when all faces have the same. */
  faceColours?: FaceColours;
}

/** The appearance of a body alone. */
export function appearanceOf({ colour, faceColours }: Appearance): Appearance {
  return faceColours ? { colour, faceColours } : { colour };
}

/** The same for bodies of one shape that look the same, whichever way their faces are numbered. */
export function appearanceKey({ colour, faceColours }: Appearance): string {
  const others = faceColours?.others.map((other) => `${other.colour}×${other.faces.length}`).sort() ?? [];
  return [colour, ...others].join(' ');
}
