import { baseName, joinPath, relativePath, stemOf } from '#core/files/links/paths';
import { writeBodyFile } from '#core/geometry/bodies/body-file';
import { rewireUsers, usersOf } from '#core/geometry/bodies/rewire-users';
import { SourcePart } from '#core/geometry/bodies/source-part';
import { withoutBodies } from '#core/geometry/bodies/without-bodies';
import { splitChoices } from '#core/jobs/split/choices';
import { nameComponents, splitFolder } from '#core/jobs/split/names';
import { groupBy } from '#core/multimap';
import { type Planning, timeStampOf } from '#core/planning';
import { addComponents } from '#core/product/add-components';
import { IDENTITY, type Matrix4, multiply } from '#core/product/matrix';
import type { Body } from '#core/product/structure';
import { writeAssembly } from '#core/product/write-assembly';
import type { ChangeSet } from '#core/project/change/change-set';
import type { Draft } from '#core/project/change/draft';
import { newFileName } from '#core/project/formats/endings';
import { renewed, structuredFormatOf } from '#core/project/formats/formats';
import { Refusal } from '#core/refusal';
import type { CutChoices } from './choices';
import { type NamedPiece, withPieces } from './pieces';

/** A piece that is to be kept, by its path among the cuts. */
export type PieceToKeep = Omit<NamedPiece, 'name'> & { path: string };

/** The name of a piece unless another is typed: after its body. */
export function pieceName(body: Body, path: string): string {
  return `${body.name || `body #${body.id}`} ${path}`;
}

/** @throws Refusal for an assembly with its parts in the file: its bodies are cut in files of their own */
export function refuseAssembly({ path, scope }: SourcePart): void {
  if (scope.isAssembly)
    throw new Refusal(`${path} is an assembly. Split it first, and cut the file that the body gets.`);
}

/** What is cut, and the pieces that are kept of it. */
export interface CutToKeep {
  source: SourcePart;
  body: Body;
  pieces: readonly PieceToKeep[];
  choices: CutChoices;
}

/**
 * Plans to put the pieces of a cut in the place of the body that was cut.
 * @throws Refusal in words for the engineer
 */
export async function planCut(
  planning: Planning,
  { source, body, pieces, choices }: CutToKeep,
): Promise<ChangeSet> {
  const { project, draft } = planning;
  const { path } = source;
  refuseAssembly(source);
  if (!project.files.has(path)) throw new Refusal(`There is no file ${path}.`);
  const named = pieces.map((piece) => ({
    ...piece,
    name: choices.names[piece.path]?.trim() || pieceName(body, piece.path),
  }));
  const { bytes, ids } = withPieces(source, body, named);
  const done = `Cut ${body.name || `body #${body.id}`} of ${baseName(path)} into ${pieces.length}`;
  if (choices.as === 'bodies') {
    draft.write(path, renewed(path, bytes));
    return draft.finish(`${done} bodies`);
  }

  // 1. A file for each piece.
  const timeStamp = timeStampOf(planning.now);
  const together = new SourcePart(path, bytes);
  const components = pieceComponents(draft, together, named, ids, choices);
  for (const { id, name, file, placed } of components)
    draft.write(
      file,
      writeBodyFile(together, [together.textOf(placed[0]!)], {
        id,
        name,
        use: source.product.use ?? 'made',
        styles: true,
        origin: IDENTITY,
        fileName: baseName(file),
        timeStamp,
        source: null,
      }),
    );

  // 2. The part loses the body; a part that has no other stays as it is, and nothing uses it any more.
  const isEmptied = source.bodies.every(({ id }) => id === body.id);
  if (!isEmptied) draft.write(path, renewed(path, withoutBodies(source, new Set([body.id]))));
  else draft.warn(`${path} has no other body. The file stays, and the pieces take its place.`);

  // 3. The assemblies.
  if (choices.as === 'top' && usersOf(project, path).size > 0) {
    await placeInUsers(planning, path, components, isEmptied);
    return draft.finish(`${done} components beside it`);
  }
  if (choices.as === 'top') draft.warn('No assembly uses the part: an assembly of its own holds the pieces.');
  const assembly = draft.free(
    joinPath(splitFolder(path, choices.folder), newFileName(`${stemOf(path)}-assembly`)),
  );
  const rest = isEmptied
    ? []
    : [
        {
          id: source.product.id,
          name: source.product.name,
          placings: [{ name: source.product.name, placement: IDENTITY }],
          written: relativePath(assembly, path),
        },
      ];
  const parts = components.map(({ id, name, file, placed }) => ({
    id,
    name,
    written: relativePath(assembly, file),
    placings: placed.map((piece) => ({ name, placement: piece.placement ?? IDENTITY })),
  }));
  draft.write(
    assembly,
    writeAssembly({
      id: `${source.product.id}-A`,
      name: source.product.name,
      fileName: baseName(assembly),
      timeStamp,
      components: [...rest, ...parts],
    }),
  );
  await rewireUsers(planning, path, assembly);
  return draft.finish(`${done} components of ${baseName(assembly)}`);
}

interface PieceComponent {
  id: string;
  name: string;
  file: string;
  /** The piece, once for each place where the part shows it. */
  placed: Body[];
}

function pieceComponents(
  draft: Draft,
  together: SourcePart,
  named: readonly (NamedPiece & { path: string })[],
  ids: readonly number[],
  choices: CutChoices,
): PieceComponent[] {
  const placedById = groupBy(together.bodies, ({ id }) => id);
  const groups = ids.map((id) => {
    const placed = placedById.get(id)!;
    return {
      representative: placed[0]!,
      joined: [],
      members: placed.map((body) => ({ body, motion: IDENTITY })),
      mirrorOf: null,
    };
  });
  const typed = Object.fromEntries(
    named.flatMap(({ path, name }, n) => (choices.names[path]?.trim() ? [[String(ids[n]), name]] : [])),
  );
  const names = nameComponents(
    groups,
    splitChoices({ names: typed }),
    { stem: stemOf(together.path), folder: splitFolder(together.path, choices.folder) },
    () => undefined,
    (file) => draft.isTaken(file),
  );
  return groups.map(({ members }, n) => {
    const { name, file, problem, proposal } = names[n]!;
    if (problem !== null) throw new Refusal(`${name}: ${problem} ${proposal} would do.`);
    const id = `${together.product.id}-${named[n]!.path}`;
    return { id, name, file, placed: members.map(({ body }) => body) };
  });
}

/** The pieces beside the part, in every assembly that places it; where it is empty, the first takes its place. */
async function placeInUsers(
  { project, draft }: Planning,
  path: string,
  components: readonly PieceComponent[],
  isEmptied: boolean,
): Promise<void> {
  for (const [holder, links] of usersOf(project, path)) {
    const standIns = links.flatMap(({ definitions }) => definitions);
    const [first, ...others] = components;
    if (isEmptied)
      for (const { kind, written } of links) await draft.retarget({ holder, kind, written }, first!.file);
    const added = (isEmptied ? others : components).map((component) => ({
      component,
      written: relativePath(holder, component.file),
    }));
    await draft.edit(holder, (before) => {
      let bytes = before;
      if (isEmptied)
        bytes = structuredFormatOf(holder, bytes).withProductsNamed(
          bytes,
          standIns.map((definition) => ({ definition, id: first!.id, name: first!.name })),
        );
      for (const { definition, occurrences } of project.files.get(holder)!.scan.products) {
        const places = occurrences.filter(({ child }) => standIns.includes(child));
        if (places.length === 0) continue;
        bytes = addComponents(
          bytes,
          definition,
          added.map(({ component: { id, name, placed }, written }) => ({
            id,
            name,
            written,
            placings: places.flatMap(({ placement }) =>
              placed.map((piece) => ({ name, placement: within(placement, piece) })),
            ),
          })),
        );
      }
      return bytes;
    });
    for (const { component, written } of added)
      draft.linked({ holder, kind: 'component', written }, component.file);
  }
}

function within(placement: Matrix4, { placement: inPart }: Body): Matrix4 {
  return inPart ? multiply(placement, inPart) : placement;
}
