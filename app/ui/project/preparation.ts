import type { SubmitOptions } from 'react-router';
import { addressIn } from '../address/addresses';

/** Where the preparation of a project's shapes is begun, stopped, or tried again. */
export function preparationOf(projectId: string): SubmitOptions {
  return { method: 'post', action: addressIn(projectId, 'preparation') };
}
