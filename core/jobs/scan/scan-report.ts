import type { FoundBy, LinkState } from '#core/files/links/resolve';
import type { LinkKind } from '#core/project/formats/kinds';
import type { FileRole } from '#core/project/formats/link-format';
import { bodyCount, ownProducts } from '#core/project/scan/content';
import { countLeaves } from '#core/project/scan/counts';
import { belongingFiles, type Project, rootsOf } from '#core/project/scan/project';

/** The result of `scan` as programs read it; its form is a promise (docs/command-line.md). */
export interface ScanReport {
  files: {
    path: string;
    format: string;
    role: FileRole;
    bytes: number;
    sha256: string;
    schema: string | null;
    unit: string | null;
    products: { id: string; name: string }[];
    bodies: number;
    /** Why it cannot be read; or, of one that can, what cannot be trusted in it. */
    error: string | null;
    isReadable: boolean;
  }[];
  links: {
    from: string;
    kind: LinkKind;
    written: string;
    to: string | null;
    state: LinkState;
    reason: string;
    /** Null where nothing was found. */
    found: FoundBy | null;
    occurrences: number;
  }[];
  roots: string[];
  unused: string[];
  totals: {
    files: number;
    links: number;
    sound: number;
    behind: number;
    missing: number;
    ambiguous: number;
    loop: number;
    occurrences: number;
    distinctParts: number;
  };
}

export function reportOf(project: Project): ScanReport {
  const roots = rootsOf(project);
  const belonging = belongingFiles(project);
  const inState = (state: LinkState) => project.links.filter((link) => link.state === state).length;
  return {
    files: [...project.files.values()].map(({ path, bytes, sha256, scan }) => ({
      path,
      format: scan.format,
      role: scan.role,
      bytes,
      sha256,
      schema: scan.schema,
      unit: scan.unit,
      products: ownProducts(scan).map(({ id, name }) => ({ id, name })),
      bodies: bodyCount(scan),
      error: scan.error ?? scan.damage,
      isReadable: scan.error === null,
    })),
    links: project.links.map(({ holder, kind, written, to, state, reason, found, occurrences }) => ({
      from: holder,
      kind,
      written,
      to,
      state,
      reason,
      found: found ?? null,
      occurrences,
    })),
    roots,
    unused: [...project.files.keys()].filter((path) => !belonging.has(path)),
    totals: {
      files: project.files.size,
      links: project.links.length,
      sound: inState('sound'),
      behind: inState('behind'),
      missing: inState('missing'),
      ambiguous: inState('ambiguous'),
      loop: inState('loop'),
      ...countLeaves(project, roots),
    },
  };
}
