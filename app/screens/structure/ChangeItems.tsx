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
      <ArrangeItem rows={rows} all={all} />
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

/** The entry of a menu that moves, groups, dissolves or removes components of one assembly file. */
function ArrangeItem({ rows, all }: ChangeItemsProps) {
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
  ];
  return (
    <Menu.Item
      component={Link}
      to={operationAddress(projectId, 'arrange', { file: holderOf(first), components: components.join(' ') })}
    >
      Move, group, dissolve or remove…
    </Menu.Item>
  );
}
