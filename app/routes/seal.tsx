import { inProject } from '#server/auth/guard';
import { wholeViewOf } from '#server/views/operations/whole-view';
import { SealScreen } from '../screens/seal/SealScreen';
import { useSentScene } from '../stage/useSentScene';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/seal';

export const meta = titled('Sealed solid');

export const loader = inProject('viewer', (access, { request }: Route.LoaderArgs) =>
  wholeViewOf(access, request, 'seal'),
);

export const shouldRevalidate = revalidateOnNewData;

export default function Seal({ loaderData: { sceneText, ...view } }: Route.ComponentProps) {
  return <SealScreen key={view.root} {...view} scene={useSentScene(sceneText)} />;
}
