import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { geometryOf } from '#core/geometry/bodies/measure';
import { COARSE } from '#core/geometry/reach/grid';
import { ReachField } from '#core/geometry/reach/reached';
import type { Kernel } from '#core/geometry/shape/kernel';
import { displayMesh, type SolidMesh } from '#core/geometry/shape/solid-mesh';
import { filledIn } from '#core/geometry/solids/sections';
import { tidiedMesh } from '#core/geometry/solids/touching';
import { LITE } from '#core/jobs/lite/operation';
import type { LiteOutline } from '#core/jobs/lite/plan';
import { SEAL } from '#core/jobs/seal/operation';
import { planOperation } from '#core/operation';
import { boxOff, boxOfPositions, diagonalOf } from '#core/product/box';
import { IDENTITY } from '#core/product/matrix';
import type { ChangeSet } from '#core/project/change/change-set';
import { innerRadii, radiiIn, raysAgainst } from './held-against';
import { type MadePart, madeAssembly } from './made-assemblies';
import { hasOutsideReader, readOutside } from './outside-reader';
import { testContext } from './plan-context';
import { innerSurfaces, surfacesIn } from './told-surfaces';

const FILL = ['hole', 'counterbore', 'pocket', 'void'] as const;

/**
 * Makes an assembly lighter for strangers, and seals it, and holds both against it: rays from outside, the box, sections, radii, planes
 * and axes of the inside that may not be told any more, the independent reader.
 * @returns what is wrong, in words; nothing when all is right
 */
export async function exactFindings(
  kernel: Kernel,
  parts: readonly MadePart[],
  { rays, gap = null }: { rays: number; gap?: number | null },
): Promise<string[]> {
  const context = await testContext(await madeAssembly(parts), kernel);
  const wrong: string[] = [];
  const say = (isRight: boolean, words: string) => {
    if (!isRight) wrong.push(words);
  };
  const folder = mkdtempSync(path.join(os.tmpdir(), 'stonetray-exact-'));
  const outside = (name: string, bytes: Uint8Array, solids: number) => {
    if (!hasOutsideReader) return;
    const file = path.join(folder, name);
    writeFileSync(file, bytes);
    const [view] = readOutside([file]);
    say(view!.fails === 0 && view!.free === 1, `${name}: the independent reader complains`);
    say(
      view!.solids.length === solids,
      `${name}: read elsewhere as ${view!.solids.length} solids, not ${solids}`,
    );
  };
  try {
    // 1. For strangers, with nothing inside.
    const lite = await planOperation(LITE, context, {
      file: 'top.stp',
      hidden: true,
      seen: 'drop',
      outside: true,
      fill: [...FILL],
      gap,
    });
    const { report, ...reduced } = lite.preview as LiteOutline;
    const made = contentOf(lite.change, 'top-lite.stp');
    const met = await raysAgainst(kernel, reduced, made, rays);
    say(met.compared > rays / 50, `lite: only ${met.compared} rays could be compared`);
    say(
      met.wrong.length === 0,
      `lite: ${met.wrong.length} rays meet another place: ${JSON.stringify(met.wrong[0])}`,
    );
    const inner = innerRadii(reduced);
    const told = [...radiiIn(made)].filter((radius) => inner.has(radius));
    say(told.length === 0, `lite: tells radii of the inside: ${told.join(', ')}`);
    const size = diagonalOf(reduced.whole.box);
    const surfaces = toldOf(innerSurfaces(reduced, size), made, size);
    say(surfaces.length === 0, `lite: tells surfaces of the inside: ${surfaces.join(', ')}`);
    say(report.leaks.length === 0, `lite: tells ${JSON.stringify(report.leaks)}`);
    say(boxOff(report.box.before, report.box.after) < 1e-6, 'lite: another box');
    outside('lite', made, report.after.bodies);

    // 2. One solid.
    const seal = await planOperation(SEAL, context, { file: 'top.stp', gap });
    const { report: proof, reduced: sealed } = seal.preview;
    const solid = contentOf(seal.change, 'top-sealed.stp');
    const isOne = proof.solids === 1 && proof.loose.length === 0 && proof.innerShells === 0;
    say(
      proof.way === 'exact' && proof.isValid && proof.isClosed && isOne,
      `seal: ${proof.way}, ${proof.refused}`,
    );
    say(
      proof.sections.every((part) => part > 0.9999),
      `seal: sections ${proof.sections.join(', ')}`,
    );
    const sections = await sectionsThrough(tidiedMesh(seal.preview.mesh), sealed.gap);
    say(
      sections.every((part) => part > 0.9999),
      `seal: ${SECTIONS} sections: ${Math.min(...sections)} filled at least`,
    );
    const ofSeal = toldOf(innerSurfaces(sealed, size), solid, size);
    say(ofSeal.length === 0, `seal: tells surfaces of the inside: ${ofSeal.join(', ')}`);
    say(proof.names.length === 0 && proof.leaks.length === 0, `seal: tells ${JSON.stringify(proof.leaks)}`);
    const hit = await raysAgainst(kernel, sealed, solid, rays);
    say(
      hit.wrong.length === 0,
      `seal: ${hit.wrong.length} rays meet another place: ${JSON.stringify(hit.wrong[0])}`,
    );
    const off = Math.abs(report.volume.after / proof.volume.after - 1);
    say(off < 1e-6, `the volumes of lite and sealed differ by ${off}`);
    outside('seal', solid, 1);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
  return wrong;
}

function toldOf(inner: ReadonlySet<string>, step: Uint8Array, size: number): string[] {
  return [...surfacesIn(step, size)].filter((key) => inner.has(key));
}

/** Planes that a solid is cut at, across x, y and z in turn. */
const SECTIONS = 20;

/** How much is filled in sections all through a solid. */
async function sectionsThrough(mesh: SolidMesh, gap: number): Promise<number[]> {
  const box = boxOfPositions(mesh.positions);
  const planes = Array.from({ length: SECTIONS }, (_, n) => {
    const axis = (n % 3) as 0 | 1 | 2;
    // Nowhere on a face: those lie at round figures.
    const part = (Math.floor(n / 3) + 0.4771) / (SECTIONS / 3);
    return { axis, at: box[axis]! + part * (box[axis + 3]! - box[axis]!) };
  });
  return filledIn(mesh, planes, async () => {
    const standing = [{ mesh: await geometryOf(displayMesh(mesh)), placement: IDENTITY }];
    const field = await ReachField.roll(standing, box, gap, async () => {}, COARSE);
    return (point) => field.isOutside(point);
  });
}

function contentOf({ changes }: ChangeSet, name: string): Uint8Array {
  const found = changes.find((change) => change.path === name);
  if (found?.action !== 'write' || !found.content) throw new Error(`${name} is not written`);
  return found.content;
}
