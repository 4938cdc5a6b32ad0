export const NODE_BUILD: string;
export function buildNode(): Promise<unknown>;
export function packagesLeftAlone(): { leftAlone: string[]; dependencies: { [name: string]: string } };
