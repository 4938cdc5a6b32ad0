import { redirect } from 'react-router';
import type { Route } from './+types/project-home';

export const loader = ({ params }: Route.LoaderArgs) => redirect(`/projects/${params.projectId}/structure`);
