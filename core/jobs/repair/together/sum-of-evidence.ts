import type { ProjectLink } from '#core/project/scan/project';

/** One thing that speaks for or against a candidate. */
export interface Evidence {
  /** Natural logarithm of a likelihood ratio: above 0 speaks for the file, below against it. */
  weight: number;
  words: string;
  /** It is about what is in the file, not about how it is called or where it lies. */
  isWitness?: boolean;
  /** It is the very content: no matter where it lies. */
  isProof?: boolean;
  /** What is in the file says that it is another part. */
  isContrary?: boolean;
  /** What lies there may be put aside: it is not taken without being asked about. */
  isPutAside?: boolean;
  /** It is about the name of the file. */
  isName?: boolean;
}

export function sumOf(evidence: readonly Evidence[]): number {
  return evidence.reduce((sum, { weight }) => sum + weight, 0);
}

/** What is the very content. */
export const PROOF = { isWitness: true, isProof: true } as const;

/** What is remembered of the file that a link last led to. */
export interface LastTarget {
  sha256: string;
  bodies?: number;
  unit?: string | null;
  /** Size of the box around all bodies, millimetres. */
  box?: readonly [number, number, number];
}

/** What is known of a project besides its files. */
export interface Memory {
  lastTargets: ReadonlyMap<ProjectLink, LastTarget>;
  /** Sizes of the boxes around all bodies of files, where they are known, by content hash, in millimetres. */
  boxes: ReadonlyMap<string, readonly [number, number, number]>;
}
