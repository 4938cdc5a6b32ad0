import { Menu } from '@mantine/core';
import { Link, useOutletContext } from 'react-router';
import { operationAddress } from '../../ui/address/addresses';
import type { ProjectContext } from '../../ui/project/project-context';

/** A component with what places it. */
export interface PlacedRow {
  /** The file that it is in; as it is written, where that is not there. */
  file: string;
  /** PRODUCT_DEFINITION in `file`. */
  definition: number;
  /** The file of the assembly that places it, and the PRODUCT_DEFINITION of that there; null for what stands at the top. */
  holder: { file: string; definition: number } | null;
  /** Whether the assembly places it by a link to another file. */
  isLinked: boolean;
  isBroken: boolean;
  bodies: number;
  components: number;
}

interface ChangeItemsProps {
  rows: readonly PlacedRow[];
  /** The file that the table is of. */
  top: string | undefined;
  /** Whether a row stands for every place of its component, in whichever assembly. */
  isOfAllPlaces?: boolean;
  /** Whether the entries of their files stand beside them. */
  hasFileItems?: boolean;
}

/** The entries of a menu that change how an assembly is put together. */
export function ChangeItems({ rows, top, isOfAllPlaces = false, hasFileItems = false }: ChangeItemsProps) {
  const { mayEdit } = useOutletContext<ProjectContext>();
  if (!mayEdit || rows.length === 0) return null;
  return (
    <>
      <PutOutItem rows={rows} />
      <TakeInItem rows={rows} />
      <ArrangeItems rows={rows} isOfAllPlaces={isOfAllPlaces} />
      <PlaceItem rows={rows} />
      <BodiesItem rows={rows} />
      <RenameItem rows={rows} top={top} hasFileItems={hasFileItems} />
    </>
  );
}

interface ItemProps {
  page: string;
  /** What the page begins with. */
  filled: { [name: string]: string };
  children: React.ReactNode;
}

function Item({ page, filled, children }: ItemProps) {
  const { projectId } = useOutletContext<ProjectContext>();
  return (
    <Menu.Item component={Link} to={operationAddress(projectId, page, filled)}>
      {children}
    </Menu.Item>
  );
}

type Rows = Pick<ChangeItemsProps, 'rows'>;

const listed = (words: readonly string[]) => [...new Set(words)].join(' ');

/** Makes files of components that lie in the file of their assembly. */
function PutOutItem({ rows }: Rows) {
  const { file } = rows[0]!;
  if (!rows.every((row) => row.holder?.file === file && !row.isLinked && row.file === file)) return null;
  const components = listed(rows.map(({ definition }) => String(definition)));
  return (
    <Item page="put-out" filled={{ file, components }}>
      Put out of its assembly’s file…
    </Item>
  );
}

/** Makes files of components part of the file of their assembly. */
function TakeInItem({ rows }: Rows) {
  const holder = rows[0]!.holder?.file;
  if (holder === undefined) return null;
  if (
    !rows.every((row) => row.holder?.file === holder && row.isLinked && !row.isBroken && row.file !== holder)
  )
    return null;
  const components = listed(rows.map(({ file }) => encodeURIComponent(file)));
  return (
    <Item page="take-in" filled={{ file: holder, components }}>
      Detach and take into its assembly’s file…
    </Item>
  );
}

/** Move, group, dissolve or remove components of one assembly file, set where they stand, or replace them. */
function ArrangeItems({ rows, isOfAllPlaces }: Rows & { isOfAllPlaces: boolean }) {
  const file = rows[0]!.holder?.file;
  if (file === undefined || !rows.every(({ holder }) => holder?.file === file)) return null;
  const components = listed(
    rows.map(
      ({ holder, isLinked, file: own, definition }) =>
        `${holder!.definition}:${isLinked ? encodeURIComponent(own) : definition}`,
    ),
  );
  return (
    <>
      <Item page="arrange" filled={{ file, components }}>
        Move, group, dissolve, remove or copy…
      </Item>
      <Item page="replace" filled={{ file, components, ...(isOfAllPlaces && { everywhere: '1' }) }}>
        Replace by another file…
      </Item>
      <Item page="place" filled={{ file, components, do: 'set-placement' }}>
        Set the placement…
      </Item>
      <Item page="place" filled={{ file, components, do: 'place-again' }}>
        Place again in a row or circle…
      </Item>
    </>
  );
}

/** Makes components of bodies that lie loose. */
function BodiesItem({ rows }: Rows) {
  const [{ file, definition, bodies, components, isLinked, holder }, ...more] = rows as [
    PlacedRow,
    ...PlacedRow[],
  ];
  const isOneBesides = bodies === 1 && components > 0;
  // Of a file of several bodies the entries of files have it.
  if (more.length > 0 || isLinked || !(isOneBesides || (bodies > 1 && holder))) return null;
  return (
    <Item page="make-components" filled={{ file, components: String(definition) }}>
      Make components of its bodies…
    </Item>
  );
}

/** Places a file in an assembly. */
function PlaceItem({ rows }: Rows) {
  const [{ file, components, isBroken }, ...more] = rows as [PlacedRow, ...PlacedRow[]];
  if (more.length > 0 || components === 0 || isBroken) return null;
  return (
    <Item page="place" filled={{ file, do: 'place' }}>
      Place a file in it…
    </Item>
  );
}

/** Gives parts other ids and names. */
function RenameItem({ rows, top, hasFileItems }: Omit<ChangeItemsProps, 'isOfAllPlaces'>) {
  const [first, ...more] = rows as [PlacedRow, ...PlacedRow[]];
  const isOne = more.length === 0;
  if (top === undefined || rows.some(({ isBroken }) => isBroken)) return null;
  // What a file is about is renamed by the entries of files.
  if (hasFileItems && isOne && (first.isLinked || !first.holder)) return null;
  const file = isOne ? first.file : top;
  const components = listed(rows.map((row) => encodeURIComponent(`${row.file}#${row.definition}`)));
  return (
    <Item page="rename" filled={{ file, components }}>
      Rename {isOne ? 'the part' : 'the parts'}…
    </Item>
  );
}
