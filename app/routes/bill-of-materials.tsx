import { inProject } from '#server/auth/guard';
import { billView } from '#server/views/operations/bill-view';
import { BillScreen } from '../screens/bill/BillScreen';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/bill-of-materials';

export const meta = titled('Bill of materials');

export const loader = inProject('viewer', ({ db, project }, { request }: Route.LoaderArgs) =>
  billView(db, project.id, new URL(request.url).searchParams.get('file')),
);

export const shouldRevalidate = revalidateOnNewData;

export default function BillOfMaterials({ loaderData }: Route.ComponentProps) {
  return <BillScreen key={loaderData.file} {...loaderData} />;
}
