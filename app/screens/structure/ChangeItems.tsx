import { Menu } from '@mantine/core';
import { Link, useOutletContext } from 'react-router';
import { isBroken } from '#core/files/links/resolve';
import type { StructureViewRow } from '#server/views/structure/structure-view';
import { operationAddress } from '../../ui/address/addresses';
import type { ProjectContext } from '../../ui/project/project-context';

interface ChangeItemsProps {
  rows: readonly StructureViewRow[];
  /** All rows of the table, in which `parent` counts. */
  all: readonly StructureViewRow[];
}

/** The entries of a menu that change how an assembly is put together. */
export function ChangeItems({ rows, all }: ChangeItemsProps) {
  return (
    <>
      <PutOutItem rows={rows} />
      <TakeInItem rows={rows} />
      <ArrangeItems rows={rows} all={all} />
      <PlaceItem rows={rows} />
      <BodiesItem rows={rows} />
      <RenameItem rows={rows} all={all} />
    </>
  );
}

/** The entry of a menu that makes files of components that lie in the file of their assembly. */
function PutOutItem({ rows }: Pick<ChangeItemsProps, 'rows'>) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const [first] = rows;
  if (!mayEdit || !first) return null;
  const areInside = rows.every(({ link, depth, file }) => !link && depth > 0 && file === first.file);
  if (!areInside) return null;
  const components = [...new Set(rows.map(({ definition }) => definition))].join(' ');
  return (
    <Menu.Item component={Link} to={operationAddress(projectId, 'put-out', { file: first.file, components })}>
      Put out of its assembly’s file…
    </Menu.Item>
  );
}

/** The entry of a menu that makes files of components part of the file of their assembly. */
function TakeInItem({ rows }: Pick<ChangeItemsProps, 'rows'>) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const holder = rows[0]?.link?.holder;
  if (!mayEdit || holder === undefined) return null;
  if (!rows.every(({ link, file }) => link?.holder === holder && !isBroken(link.state) && file !== holder))
    return null;
  const components = [...new Set(rows.map(({ file }) => encodeURIComponent(file)))].join(' ');
  return (
    <Menu.Item component={Link} to={operationAddress(projectId, 'take-in', { file: holder, components })}>
      Take into its assembly’s file…
    </Menu.Item>
  );
}

/** The entries of a menu that move, group, dissolve or remove components of one assembly file, set where they stand, or replace them. */
function ArrangeItems({ rows, all }: ChangeItemsProps) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const holderOf = ({ link, file }: StructureViewRow) => link?.holder ?? file;
  const [first] = rows;
  if (!mayEdit || !first || !rows.every((row) => row.depth > 0 && holderOf(row) === holderOf(first)))
    return null;
  const components = [
    ...new Set(
      rows.map(
        ({ parent, definition, link, file }) =>
          `${all[parent]?.definition}:${link ? encodeURIComponent(file) : definition}`,
      ),
    ),
  ].join(' ');
  const file = holderOf(first);
  const to = (page: string, more: { [name: string]: string } = {}) =>
    operationAddress(projectId, page, { file, components, ...more });
  return (
    <>
      <Menu.Item component={Link} to={to('arrange')}>
        Move, group, dissolve, remove or copy…
      </Menu.Item>
      <Menu.Item component={Link} to={to('replace')}>
        Replace by another file…
      </Menu.Item>
      <Menu.Item component={Link} to={to('place', { do: 'set-placement' })}>
        Set the placement…
      </Menu.Item>
      <Menu.Item component={Link} to={to('place', { do: 'place-again' })}>
        Place again in a row or circle…
      </Menu.Item>
    </>
  );
}

/** The entry of a menu that makes components of bodies that lie loose. */
function BodiesItem({ rows }: Pick<ChangeItemsProps, 'rows'>) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const [first, ...more] = rows;
  if (!mayEdit || !first || more.length > 0) return null;
  const { file, definition, bodies, children, link, depth } = first;
  const isOneBesides = bodies === 1 && children > 0;
  // Of a file of several bodies the entries of files have it.
  if (link || !(isOneBesides || (bodies > 1 && depth > 0))) return null;
  return (
    <Menu.Item
      component={Link}
      to={operationAddress(projectId, 'make-components', { file, components: String(definition) })}
    >
      Make components of its bodies…
    </Menu.Item>
  );
}

/** The entry of a menu that places a file in an assembly. */
function PlaceItem({ rows }: Pick<ChangeItemsProps, 'rows'>) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const [first, ...more] = rows;
  if (!mayEdit || !first || more.length > 0 || first.children === 0) return null;
  if (first.link && isBroken(first.link.state)) return null;
  return (
    <Menu.Item component={Link} to={operationAddress(projectId, 'place', { file: first.file, do: 'place' })}>
      Place a file in it…
    </Menu.Item>
  );
}

/** The entry of a menu that gives parts other ids and names. */
function RenameItem({ rows, all }: ChangeItemsProps) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const [first] = rows;
  const [top] = all;
  if (!mayEdit || !first || !top || rows.some(({ link }) => link && isBroken(link.state))) return null;
  // What a file is about is renamed by the entries of files.
  if (rows.length === 1 && (first.link || first.depth === 0)) return null;
  const file = rows.length === 1 ? first.file : top.file;
  const components = [
    ...new Set(rows.map((row) => encodeURIComponent(`${row.file}#${row.definition}`))),
  ].join(' ');
  return (
    <Menu.Item component={Link} to={operationAddress(projectId, 'rename', { file, components })}>
      Rename {rows.length === 1 ? 'the part' : 'the parts'}…
    </Menu.Item>
  );
}
