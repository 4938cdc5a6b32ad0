import { inProject } from '#server/auth/guard';
import { wholeViewOf } from '#server/views/operations/whole-view';
import { SealScreen } from '../screens/seal/SealScreen';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/seal';

export const meta = titled('Sealed solid');

export const loader = inProject('viewer', (access, { request }: Route.LoaderArgs) =>
  wholeViewOf(access, request),
);

export const shouldRevalidate = revalidateOnNewData;

export default function Seal({ loaderData }: Route.ComponentProps) {
  return <SealScreen key={loaderData.root} {...loaderData} />;
}
