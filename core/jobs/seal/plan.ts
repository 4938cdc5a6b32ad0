import { createHash } from 'node:crypto';
import { baseName, joinPath, stemOf } from '#core/files/links/paths';
import { NO_TIME } from '#core/files/part21/write';
import { OPENING_KINDS } from '#core/geometry/fill/opening-kinds';
import { FORGETTABLE, reduceChoices } from '#core/geometry/reduce/choices';
import { keptFacesNow, withMountingFaces } from '#core/geometry/reduce/kept-faces';
import { newFileOf, sourcesOf } from '#core/geometry/reduce/new-file';
import { reduceWhole } from '#core/geometry/reduce/reduce';
import type { ReducedWhole } from '#core/geometry/reduce/reduced-whole';
import { rememberOutside } from '#core/geometry/reduce/remember-outside';
import { madeReport } from '#core/geometry/reduce/report';
import { writeReduced } from '#core/geometry/reduce/write-reduced';
import type { BodyMesh } from '#core/geometry/shape/body';
import { writeMesh } from '#core/geometry/shape/mesh-files';
import { writeSolid } from '#core/geometry/solids/write-solid';
import type { PlanContext } from '#core/planning';
import { Refusal } from '#core/refusal';
import type { SealChoices } from './choices';
import { type SealReport, solidIn } from './proof';
import { proveSolid } from './prove';
import { BEAD, seal } from './sealed';

/** A sealed solid that could be made. */
export interface SealOutline {
  reduced: ReducedWhole;
  report: SealReport;
  /** The result, for a look. */
  mesh: BodyMesh;
  /** Path of the STEP file. */
  file: string;
}

/**
 * Plans one sealed solid on the draft: what is hidden is left out and filled, the rest becomes one.
 * @throws Refusal where neither way leads to a closed solid
 */
export async function planSeal(context: PlanContext, root: string, asked: SealChoices): Promise<SealOutline> {
  const { draft } = context;
  // 1. What is left, as for a lite model that forgets everything.
  const chosen = {
    ...asked,
    keepFaces: await keptFacesNow(context, root, asked.keepFaces, context.remadeFile !== undefined),
  };
  // What it is probably mounted by is looked for anew whenever it is made.
  const choices = { ...chosen, keepFaces: await withMountingFaces(context, root, chosen) };
  const reduced = await reduceWhole(
    context,
    root,
    reduceChoices({
      hidden: true,
      seen: 'drop',
      gap: choices.gap,
      smallerThan: choices.smallerThan,
      roundOut: choices.roundOut,
      sharpEdges: choices.sharpEdges,
      fill: [...OPENING_KINDS],
      fillHidden: choices.openings === 'keep',
      keepFaces: choices.keepFaces,
    }),
  );
  const { gap } = reduced;
  const lite = bareLite(reduced);

  // 2. One solid, exactly or of facets.
  const { way, within } = choices;
  const digest = createHash('sha256').update(lite).digest('hex');
  const sealed = await context.remember(
    `sealed ${digest} ${way} ${within} ${choices.standOff} ${gap} ${choices.keepFaces.length}`,
    () => seal(context, lite, reduced, choices),
  );
  if (sealed.refused !== null)
    draft.warn(`${sealed.refused} The solid is made of facets, within ${within} mm.`);
  if (sealed.odd > 0)
    draft.warn(
      `${sealed.odd === 1 ? '1 body is' : `${sealed.odd} bodies are`} no closed solid and could not be taken in.`,
    );
  if (sealed.nudged)
    draft.warn(
      `${bodiesInWords(sealed.nudged.bodies)} made ${Math.abs(sealed.nudged.by)} mm ${sealed.nudged.by < 0 ? 'smaller' : 'larger'}, so that they could be united exactly.`,
    );
  if (sealed.faceted > 0)
    draft.warn(
      `${bodiesInWords(sealed.faceted)} taken in as flat facets, within ${within} mm: they could not be united exactly. All the rest is exact.`,
    );
  if (sealed.beads > 0)
    draft.warn(
      `Bodies touch along ${sealed.beads === 1 ? '1 edge' : `${sealed.beads} edges`} only: there they are joined by a bead ${Number((2 * BEAD * within).toPrecision(2))} mm thick.`,
    );
  const [main] = sealed.solids;
  if (!main) throw new Refusal('No closed solid came of it. Widen the gap, or leave out what is open.');

  // 3. The files.
  const { folder, name, file } = newFileOf(
    context,
    root,
    choices,
    choices.formats.map((format) => `.${format}`),
  );
  const bytes = writeSolid([main.shape], name, baseName(file));
  draft.write(file, bytes);
  for (const format of choices.formats) {
    const beside = joinPath(folder, `${stemOf(file)}.${format}`);
    draft.write(beside, await writeMesh(main.closed, format));
  }

  // 4. The proof.
  const report = await proveSolid(context, {
    reduced,
    sealed,
    main,
    bytes,
    name,
    choices,
  });
  if (choices.tie) {
    const sources = sourcesOf(root, reduced.originals.keys());
    const made = { ...madeReport({ ...report, leaks: [] }), solid: solidIn(report) };
    await rememberOutside(context, file, { operation: 'seal', choices: chosen, report: made }, sources);
  }
  return { reduced, report, mesh: main.mesh, file };
}

/** What is left as a file that knows nothing: what is united. */
export function bareLite({ parts }: Pick<ReducedWhole, 'parts'>): Uint8Array {
  return writeReduced({
    id: 'part',
    name: 'part',
    fileName: '',
    timeStamp: NO_TIME,
    form: 'assembly',
    forget: new Set(FORGETTABLE),
    parts,
    ties: [],
  }).bytes;
}

function bodiesInWords(count: number): string {
  return count === 1 ? '1 body was' : `${count} bodies were`;
}
