import { inProject } from '#server/auth/guard';
import { presetsView } from '#server/views/operations/presets-view';
import { PresetsScreen } from '../screens/presets/PresetsScreen';
import { revalidateOnNewData } from '../ui/address/useView';
import { titled } from '../ui/frame/titles';
import type { Route } from './+types/presets';

export const meta = titled('Presets');

export const loader = inProject('viewer', ({ db, project }) => presetsView(db, project.id));

export const shouldRevalidate = revalidateOnNewData;

export default function Presets({ loaderData }: Route.ComponentProps) {
  return <PresetsScreen {...loaderData} />;
}
