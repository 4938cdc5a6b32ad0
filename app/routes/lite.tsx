import { inProject } from '#server/auth/guard';
import { wholeViewOf } from '#server/views/operations/whole-view';
import { LiteScreen } from '../screens/lite/LiteScreen';
import { useSentScene } from '../stage/useSentScene';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/lite';

export const meta = titled('Lite model');

export const loader = inProject('viewer', (access, { request }: Route.LoaderArgs) =>
  wholeViewOf(access, request, 'lite'),
);

export const shouldRevalidate = revalidateOnNewData;

export default function Lite({ loaderData: { sceneText, ...view } }: Route.ComponentProps) {
  return <LiteScreen key={view.root} {...view} scene={useSentScene(sceneText)} />;
}
