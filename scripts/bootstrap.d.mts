export const ROOT: string;
export function run(command: string, args: string[], options?: object): void;
export function ensurePackages(): void;
export function postgresPrograms(): string | undefined;
export function chromium(): string | undefined;
export function ensureDebian(options?: { browser?: boolean }): void;
export function tryOutsideReader(): void;
export function withTypeScript(
  file: string,
): Promise<Record<string, (...given: never[]) => Promise<unknown>>>;
