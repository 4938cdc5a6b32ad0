import { inProject } from '#server/auth/guard';
import { DeleteScreen } from '../screens/delete/DeleteScreen';

export const meta = () => [{ title: 'Delete · Stone Tray' }];

export const loader = inProject('viewer', async () => {
  return null;
});

export default function Delete() {
  return <DeleteScreen />;
}
