import { inProject } from '#server/auth/guard';
import { wholeViewOf } from '#server/views/operations/whole-view';
import { LiteScreen } from '../screens/lite/LiteScreen';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/lite';

export const meta = titled('Lite model');

export const loader = inProject('viewer', (access, { request }: Route.LoaderArgs) =>
  wholeViewOf(access, request),
);

export const shouldRevalidate = revalidateOnNewData;

export default function Lite({ loaderData }: Route.ComponentProps) {
  return <LiteScreen key={loaderData.root} {...loaderData} />;
}
