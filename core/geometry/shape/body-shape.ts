import type { BodyFacts, BodyMesh } from './body';
import type { ExactBody } from './exact';
import type { ShapeFeature } from './features';

/** What the kernel made of one body, or why it could not; a body that is impossible may have a mesh all the same. */
export type BodyShape =
  | {
      body: number;
      mesh: BodyMesh | null;
      facts: BodyFacts;
      /** Empty where they were not asked for. */
      features: ShapeFeature[];
      exact: ExactBody;
      /** The kernel's own check, where it was asked for. */
      isValid?: boolean;
    }
  | { body: number; error: string; mesh?: BodyMesh | null };

/** What of a body the kernel shall find out. */
export interface WantedOfBody {
  /** False when only facts and features are wanted. */
  mesh?: boolean;
  /** What bodies are compared by and measured on; `none` saves a quarter of the time. All of it unless it is said. */
  details?: 'all' | 'features' | 'none';
  /** Whether the kernel looks if each body is valid. */
  check?: boolean;
}
