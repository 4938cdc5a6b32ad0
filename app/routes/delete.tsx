import { inProject } from '#server/auth/guard';
import { DeleteScreen } from '../screens/delete/DeleteScreen';
import { titled } from '../ui/frame/titles';

export const meta = titled('Delete');

export const loader = inProject('viewer', async () => {
  return null;
});

export default function Delete() {
  return <DeleteScreen />;
}
