export const NODE_BUILD: string;
export function buildNode(folder?: string): Promise<unknown>;
export function packagesLeftAlone(): { leftAlone: string[]; dependencies: { [name: string]: string } };
