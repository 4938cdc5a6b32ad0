import type { LinkState } from '#core/files/links/resolve';
import type { HandOffPlan } from './plan';

/** What goes into a package, and what would be missing from it. */
export interface PackagePreview {
  rootInside: string;
  notes: string[];
  files: { from: string; to: string; why: string; bytes: number }[];
  broken: { holder: string; written: string; state: LinkState; reason: string }[];
}

export function packagePreview({ rootInside, files, broken, notes }: HandOffPlan): PackagePreview {
  return {
    rootInside,
    notes,
    files: files.map(({ from, to, why, bytes }) => ({ from, to, why, bytes })),
    broken: broken.map(({ holder, written, state, reason }) => ({ holder, written, state, reason })),
  };
}
