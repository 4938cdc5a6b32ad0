import { createHash } from 'node:crypto';
import { baseName, joinPath, stemOf } from '#core/files/links/paths';
import type { Reference } from '#core/files/part21/parameters';
import { Part21Builder } from '#core/files/part21/write';
import { OPENING_KINDS } from '#core/geometry/fill/opening-kinds';
import { everythingReached, reachOf } from '#core/geometry/reach/classes';
import { reduceChoices } from '#core/geometry/reduce/choices';
import { gapOf } from '#core/geometry/reduce/decide';
import { openingsOf, type PartWithOpenings } from '#core/geometry/reduce/filled-parts';
import { openingKey } from '#core/geometry/reduce/filled-space';
import { linkTies, type NewFile, newFileOf, sourcesOf, tiesTo } from '#core/geometry/reduce/new-file';
import { wholeOf } from '#core/geometry/reduce/read-whole';
import { madeCoarser, reduceGiven, warnOfMissing } from '#core/geometry/reduce/reduce';
import type { ReducedWhole } from '#core/geometry/reduce/reduced-whole';
import { type Amounts, amountsBefore } from '#core/geometry/reduce/report';
import { writeMesh } from '#core/geometry/shape/mesh-files';
import { hullOf } from '#core/geometry/solids/hull';
import type { Whole } from '#core/geometry/whole/whole';
import { type PlanContext, timeStampOf } from '#core/planning';
import { IDENTITY } from '#core/product/matrix';
import { addSourceLink } from '#core/product/source/tie';
import { AP242, addFrame } from '#core/product/write-assembly';
import { addOccurrence, addProduct } from '#core/product/write-components';
import { Refusal } from '#core/refusal';
import type { GroupsChoices, Joint, RigidGroup } from './choices';
import { flatContacts, roundContacts } from './contacts';
import { addGroupShape, amountsOf, type GroupShape, meshOfGroup } from './group-shape';
import { massesOf } from './masses';
import { writeMjcf } from './mjcf';
import { Mechanism } from './motion';
import { type Overlap, overlapsIn } from './overlaps';
import { type Proposal, proposeGroups } from './propose';
import { metOpenings } from './reopen';
import { rollingContacts } from './rolling';
import { writeSdf } from './sdf';
import type { SimulatedLink } from './simulated';
import { solidGroups } from './solid-groups';
import { subWhole } from './sub-whole';
import { writeUrdf } from './urdf';
import { addKinematics } from './write-kinematics';
import { writtenGroups } from './written-groups';

/** Moving groups that could be made. */
export interface GroupsOutline {
  whole: Whole;
  proposal: Proposal;
  groups: RigidGroup[];
  joints: Joint[];
  /** Groups that no joint leads to from the one that stands still. */
  loose: string[];
  /** Null while only groups are proposed. */
  made: {
    file: string;
    before: Amounts;
    after: Pick<Amounts, 'occurrences' | 'bodies' | 'faces' | 'bytes'>;
    /** Groups that have space in common, and where. */
    overlaps: Overlap[];
    /** Openings that stay because another group stands in them. */
    reopened: number;
    /** Joints that what simulators read cannot hold. */
    left: string[];
  } | null;
}

/**
 * Plans an assembly of rigid groups with joints between them.
 * @throws Refusal for joints between groups that are not there, and for two groups of one name
 */
export async function planGroups(
  context: PlanContext,
  root: string,
  choices: GroupsChoices,
): Promise<GroupsOutline> {
  const whole = await wholeOf(context, root);
  warnOfMissing(context, whole);
  const parts = new Map<string, PartWithOpenings>();
  for (const { file } of whole.shapes) if (!parts.has(file)) parts.set(file, await openingsOf(context, file));
  const proposal = await context.remember(
    `groups of ${root} ${whole.shapes.map(({ sha256 }) => sha256).join(' ')}`,
    async () => {
      const written = await writtenGroups(context, whole);
      if (written) return written;
      const partOf = (file: string) => parts.get(file);
      const round = roundContacts(whole, partOf);
      const rolling = rollingContacts(whole, partOf, round);
      return proposeGroups(whole, [...round, ...rolling], flatContacts(whole, partOf));
    },
  );
  const groups = completed(whole, choices.groups ?? proposal.groups);
  const joints = choices.joints ?? (choices.groups ? [] : proposal.joints);
  checkJoints(groups, joints);
  const { loose } = new Mechanism(
    groups.map(({ name }) => name),
    joints,
  );
  const outline = { whole, proposal, groups, joints, loose, made: null };
  if (choices.groups === null && !choices.accept) return outline;
  if (groups.length === 0)
    throw new Refusal(
      `Nothing in ${baseName(root)} shares an axis that is free to turn: make the groups by hand.`,
    );
  return { ...outline, made: await make(context, root, whole, { groups, joints }, choices) };
}

/** Makes the file of the groups, and what simulators get beside it. */
async function make(
  context: PlanContext,
  root: string,
  whole: Whole,
  { groups, joints }: Proposal,
  choices: GroupsChoices,
): Promise<NonNullable<GroupsOutline['made']>> {
  const { subs, reopened } = await reducedGroups(context, whole, groups, choices);
  const meshEndings = groups.flatMap((_, n) => [
    ...(choices.urdf || choices.sdf ? [`-${n + 1}.glb`, `-${n + 1}-hull.glb`] : []),
    ...(choices.mjcf ? [`-${n + 1}.stl`] : []),
  ]);
  const forms = [
    ...(choices.urdf ? ['.urdf'] : []),
    ...(choices.sdf ? ['.sdf'] : []),
    ...(choices.mjcf ? ['.mjcf.xml'] : []),
  ];
  const place = newFileOf(context, root, choices, forms.length > 0 ? [...forms, ...meshEndings] : []);
  const shapes: GroupShape[] = choices.solid
    ? (await solidGroups(context, groups, subs)).map((solids) => ({ solids }))
    : subs.map((parts) => ({ parts }));
  const overlaps = choices.solid
    ? await overlapsIn(context, { groups, joints }, shapes.map(meshOfGroup))
    : [];
  const bytes = writeGroups(context, root, { groups, joints }, subs, shapes, choices, place);
  const left =
    forms.length > 0
      ? await writeForSimulators(context, whole, { groups, joints }, shapes, choices, place)
      : [];
  return {
    file: place.file,
    before: amountsBefore(context.project, whole),
    after: {
      occurrences: groups.length,
      ...amountsOf(shapes),
      bytes,
    },
    overlaps,
    reopened,
    left,
  };
}

/** Each group by itself, reduced; openings that another group stands in stay open. */
async function reducedGroups(
  context: PlanContext,
  whole: Whole,
  groups: readonly RigidGroup[],
  { gap: wanted, smallerThan, hidden, fill, roundOut, sharpEdges }: GroupsChoices,
): Promise<{ subs: ReducedWhole[]; reopened: number }> {
  const choices = reduceChoices({
    gap: wanted,
    smallerThan,
    hidden,
    fill: fill ? [...OPENING_KINDS] : [],
    roundOut,
    sharpEdges,
  });
  const gap = gapOf(choices, whole);
  const parts: Pick<ReducedWhole, 'whole' | 'reach' | 'gap'>[] = [];
  for (const { members } of groups) {
    const sub = subWhole(whole, new Set(members));
    const key = createHash('sha256')
      .update(`${members.join('\n')} ${whole.shapes.map(({ sha256 }) => sha256)}`)
      .digest('hex');
    const reach = hidden
      ? await context.remember(`group reach ${gap} ${key}`, () => reachOf(sub, gap, context.progress))
      : everythingReached(sub);
    parts.push({ whole: sub, gap, reach });
  }
  // What was opened stays open, so this comes to its end.
  const open = new Set<string>();
  for (;;) {
    const subs: ReducedWhole[] = [];
    for (const part of parts)
      subs.push(
        await reduceGiven(context, part, choices, (shape, { faces }) => !open.has(openingKey(shape, faces))),
      );
    const before = open.size;
    for (const sub of subs) {
      const others = subs.filter((other) => other !== sub);
      for (const key of await metOpenings(sub, others)) open.add(key);
    }
    if (open.size > before) continue;
    // Once it is known what stays open.
    const coarser: ReducedWhole[] = [];
    for (const sub of subs) coarser.push(await madeCoarser(context, sub, choices));
    return { subs: coarser, reopened: open.size };
  }
}

/** Writes a product for each group, and the mechanism. @returns how many bytes it has */
function writeGroups(
  context: PlanContext,
  root: string,
  { groups, joints }: Proposal,
  subs: readonly ReducedWhole[],
  shapes: readonly GroupShape[],
  choices: GroupsChoices,
  { name, file }: NewFile,
): number {
  const builder = new Part21Builder();
  const frame = addFrame(builder, 'mm');
  const top = addProduct(frame, name, name);
  const items = new Set<Reference>([frame.origin]);
  const pending: ((assembly: Reference) => void)[] = [];
  const written = groups.map((group, n) => {
    const product = addProduct(frame, `group ${n + 1}`, group.name);
    const shape = addGroupShape(frame, shapes[n]!, group.name);
    builder.add('SHAPE_DEFINITION_REPRESENTATION', product.shape, shape.representation);
    const placed = { definition: product.definition, ...shape };
    const { item, finish } = addOccurrence(frame, top.definition, placed, {
      id: `group ${n + 1}`,
      name: group.name,
      placement: IDENTITY,
    });
    items.add(item);
    pending.push(finish);
    return { name: group.name, representation: shape.representation };
  });
  const assembly = builder.add('SHAPE_REPRESENTATION', name, [...items], frame.context);
  builder.add('SHAPE_DEFINITION_REPRESENTATION', top.shape, assembly);
  for (const finish of pending) finish(assembly);
  const mechanism = { definition: top.definition, context: frame.context, name: 'mechanism' };
  addKinematics(builder, mechanism, written, joints);
  const sources = sourcesOf(
    root,
    subs.flatMap(({ originals }) => [...originals.keys()]),
  );
  const recipe = { operation: 'groups', choices: { ...choices, groups, joints } };
  if (choices.tie)
    for (const { written: to, ...memory } of tiesTo(context, file, sources, recipe))
      addSourceLink(builder, top.definition, to, memory);
  const bytes = builder.finish({
    name: baseName(file),
    timeStamp: timeStampOf(context.now),
    originatingSystem: 'Stone Tray',
    schema: AP242,
  });
  context.draft.write(file, bytes);
  if (choices.tie) linkTies(context, file, sources);
  return bytes.length;
}

/** Writes what simulators read beside the file, with meshes for each group. @returns joints that are not in it */
async function writeForSimulators(
  context: PlanContext,
  whole: Whole,
  { groups, joints }: Proposal,
  shapes: readonly GroupShape[],
  { density, urdf, sdf, mjcf }: Pick<GroupsChoices, 'density' | 'urdf' | 'sdf' | 'mjcf'>,
  { folder, name, file }: NewFile,
): Promise<string[]> {
  const { draft } = context;
  const stem = stemOf(file);
  const masses = await massesOf(context, whole, groups, density);
  const links: SimulatedLink[] = [];
  for (const [n, group] of groups.entries()) {
    const link = {
      name: group.name,
      mesh: `${stem}-${n + 1}.glb`,
      hull: `${stem}-${n + 1}-hull.glb`,
      mass: masses[n]!,
    };
    const mesh = meshOfGroup(shapes[n]!);
    if (urdf || sdf) {
      draft.write(joinPath(folder, link.mesh), await writeMesh(mesh, 'glb'));
      draft.write(joinPath(folder, link.hull), await writeMesh(await hullOf(mesh), 'glb'));
    }
    if (mjcf) draft.write(joinPath(folder, `${stem}-${n + 1}.stl`), await writeMesh(mesh, 'stl'));
    links.push(link);
  }
  const left = new Set<string>();
  if (urdf) {
    const made = writeUrdf(name, links, joints);
    draft.write(joinPath(folder, `${stem}.urdf`), Buffer.from(made.text));
    if (made.left.length > 0) draft.warn(`URDF knows no loops: ${made.left.join(', ')} cannot be in it.`);
    for (const joint of made.left) left.add(joint);
  }
  if (sdf) {
    const made = writeSdf(name, links, joints);
    draft.write(joinPath(folder, `${stem}.sdf`), Buffer.from(made.text));
    if (made.left.length > 0)
      draft.warn(
        `SDFormat has no joints that turn and slide, or slide in a plane: ${made.left.join(', ')} cannot be in it.`,
      );
    for (const joint of made.left) left.add(joint);
  }
  if (mjcf) {
    const text = writeMjcf(name, links, joints, (n) => `${stem}-${n + 1}.stl`);
    draft.write(joinPath(folder, `${stem}.mjcf.xml`), Buffer.from(text));
  }
  return [...left];
}

/** The groups with every component in one of them: what is in none belongs to the first. */
function completed(whole: Whole, groups: readonly RigidGroup[]): RigidGroup[] {
  const names = new Set<string>();
  for (const { name } of groups) {
    if (names.has(name)) throw new Refusal(`Two groups are called ${name}. Give one of them another name.`);
    names.add(name);
  }
  if (groups.length === 0) return [];
  const known = new Set(whole.occurrences.map(({ key }) => key));
  const taken = new Set<string>();
  const listed = groups.map(({ name, members }) => ({
    name,
    members: members.filter((key) => known.has(key) && !taken.has(key) && taken.add(key)),
  }));
  const rest = whole.occurrences.filter(({ key }) => !taken.has(key)).map(({ key }) => key);
  const all = listed.map((group, n) =>
    n === 0 ? { ...group, members: [...group.members, ...rest] } : group,
  );
  const empty = all.find(({ members }) => members.length === 0);
  if (empty) throw new Refusal(`The group ${empty.name} has no components.`);
  return all;
}

function checkJoints(groups: readonly RigidGroup[], joints: readonly Joint[]): void {
  const names = new Set(groups.map(({ name }) => name));
  for (const { name, between, direction } of joints) {
    for (const group of between)
      if (!names.has(group))
        throw new Refusal(`The joint ${name} is with a group ${group} that is not there.`);
    if (between[0] === between[1]) throw new Refusal(`The joint ${name} joins ${between[0]} with itself.`);
    if (Math.hypot(...direction) < 1e-9) throw new Refusal(`The axis of the joint ${name} has no direction.`);
  }
}
