import { useSearchParams } from 'react-router';
import { inProject } from '#server/auth/guard';
import { renameViewSteps } from '#server/views/operations/rename-view';
import { sentAssembly } from '#server/views/operations/sent-assembly';
import { RenameScreen } from '../screens/rename/RenameScreen';
import { useSentScene } from '../stage/useSentScene';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/rename';

export const meta = titled('Rename parts');

export const loader = inProject('viewer', ({ db, project }, { request }: Route.LoaderArgs) =>
  sentAssembly(db, project.id, request, renameViewSteps),
);

export const shouldRevalidate = revalidateOnNewData;

export default function Rename({ loaderData: { sceneText, ...view } }: Route.ComponentProps) {
  const [search] = useSearchParams();
  return <RenameScreen key={search.get('file')} {...view} scene={useSentScene(sceneText)} />;
}
