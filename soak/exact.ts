import { EXACT_ASSEMBLIES } from '#core/testing/exact-assemblies';
import { exactFindings } from '#core/testing/exact-findings';
import { kernel } from '#core/testing/kernel';
import { startModelling } from '#core/testing/step-of-shape';

/** Holds every made assembly against what is made lighter of it. @returns by name what is wrong; nothing when all is right */
export async function holdAgainst(rays: number): Promise<{ [name: string]: string[] }> {
  await startModelling();
  const wrong: { [name: string]: string[] } = {};
  for (const [name, parts] of Object.entries(EXACT_ASSEMBLIES)) {
    // What stands out by a millimetre is reached by a ball that is no wider.
    const gap = name === 'flanges' ? 0.8 : null;
    const found = await exactFindings(kernel, parts(), { rays, gap });
    if (found.length > 0) wrong[name] = found;
  }
  await kernel.close();
  return wrong;
}
