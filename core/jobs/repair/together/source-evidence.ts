import { baseName } from '#core/files/links/paths';
import { onceFor } from '#core/once';
import type { SourceMemory } from '#core/product/source/memory';
import { type ContentScan, ownProducts } from '#core/project/scan/content';
import type { Designation } from '#core/project/scan/designations';
import type { Project, ProjectLink, ScannedFile } from '#core/project/scan/project';
import { type Evidence, PROOF } from './sum-of-evidence';

/** By which a newer version of a source is recognised, found once for each content. */
const bodiesOf = onceFor((scan: ContentScan) => {
  const there = ownProducts(scan).flatMap((product) => product.bodies);
  return {
    names: new Set(there.map(({ name }) => name)),
    numbers: new Map(there.map(({ id, name }) => [id, name])),
  };
});

/**
 * What speaks for a file that others came out of: the link itself remembers the version that was taken, and the bodies
 * of it. A newer version has other bytes and most of the bodies.
 */
export function sourceEvidence(
  project: Project,
  file: ScannedFile,
  link: ProjectLink,
  { sha256, bodies }: SourceMemory,
  holder: readonly Designation[],
): Evidence[] {
  if (sha256 !== null && file.sha256 === sha256)
    return [{ weight: 9, ...PROOF, words: `The very version that ${baseName(link.holder)} was taken from` }];
  const evidence: Evidence[] = [];
  if (bodies.length > 0) {
    const { names, numbers } = bodiesOf(file.scan);
    const found = bodies.filter(({ id, name }) => (name === '' ? numbers.has(id) : names.has(name)));
    const which = bodies[0]!.name || `#${bodies[0]!.id}`;
    const what = bodies.length === 1 ? `the body ${which}` : `the ${bodies.length} bodies`;
    if (found.length === bodies.length) {
      const sameNumbers = bodies.every(({ id, name }) => numbers.get(id) === name);
      evidence.push({
        weight: sameNumbers ? 5 : 4,
        isWitness: true,
        words: `Has ${what} that the file was taken from`,
      });
    } else if (found.length > 0)
      evidence.push({
        weight: 1.5,
        words: `Has ${found.length} of ${what} that the file was taken from`,
      });
    else evidence.push({ weight: -3, words: `Does not have ${what} that the file was taken from` });
  } else {
    // The assembly of a split has its source's name.
    const same = ownProducts(file.scan).find(
      ({ name }) => name !== '' && holder.some((product) => product.name === name),
    );
    if (same)
      evidence.push({
        weight: 4,
        isWitness: true,
        words: `Product ${same.name} has the name of the assembly`,
      });
  }
  if ((project.uses.get(file.path) ?? []).some(({ source }) => source))
    evidence.push({ weight: -3, words: 'Came out of another file itself' });
  return evidence;
}
