import { forEverybody } from '#server/auth/guard';
import { catalogue } from '#server/projects/catalogue/publications';
import { CatalogueScreen } from '../screens/catalogue/CatalogueScreen';
import type { Route } from './+types/catalogue';

export const meta = () => [{ title: 'Catalogue · Stone Tray' }];

/** What is offered for download, for everybody: it says nothing of projects or people. */
export const loader = forEverybody(async (db) => {
  const offered = await catalogue(db);
  return { offered: offered.map(({ token, title, facts }) => ({ token, title, facts })) };
});

export default function Catalogue({ loaderData }: Route.ComponentProps) {
  return <CatalogueScreen {...loaderData} />;
}
