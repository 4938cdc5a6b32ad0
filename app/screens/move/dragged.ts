/** How dragged rows are told from anything else that is dropped. */
export const DRAGGED = 'application/x-stonetray-path';
