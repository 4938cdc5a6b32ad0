import { data } from 'react-router';
import { forEverybody } from '#server/auth/guard';
import { publicationAt } from '#server/projects/catalogue/publications';
import { CatalogueItemScreen } from '../screens/catalogue/CatalogueItemScreen';
import type { Route } from './+types/catalogue-item';

export const meta = ({ loaderData }: Route.MetaArgs) => [
  { title: `${loaderData?.title ?? 'Not offered'} · Stone Tray` },
];

/** One file that is offered for download, for whoever has its address. */
export const loader = forEverybody(async (db, { params }: Route.LoaderArgs) => {
  const found = await publicationAt(db, params.token);
  if (!found)
    throw data('This is not offered, or no longer. Ask whoever gave you the address.', { status: 404 });
  const { token, title, facts, files } = found;
  const given = files.filter(({ offered }) => offered);
  return { token, title, facts, files: given.map(({ format, name, bytes }) => ({ format, name, bytes })) };
});

export default function CatalogueItem({ loaderData }: Route.ComponentProps) {
  return <CatalogueItemScreen {...loaderData} />;
}
