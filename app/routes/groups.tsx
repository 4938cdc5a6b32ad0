import { inProject } from '#server/auth/guard';
import { wholeViewOf } from '#server/views/operations/whole-view';
import { GroupsScreen } from '../screens/groups/GroupsScreen';
import { useSentScene } from '../stage/useSentScene';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/groups';

export const meta = titled('Moving groups');

export const loader = inProject('viewer', (access, { request }: Route.LoaderArgs) =>
  wholeViewOf(access, request, 'groups'),
);

export const shouldRevalidate = revalidateOnNewData;

export default function Groups({ loaderData: { sceneText, ...view } }: Route.ComponentProps) {
  return <GroupsScreen key={view.root} {...view} scene={useSentScene(sceneText)} />;
}
