const BROWSERS: readonly [sign: RegExp, name: string][] = [
  [/Edg\//, 'Edge'],
  [/Firefox\//, 'Firefox'],
  [/(Chrome|Chromium)\//, 'Chrome or Chromium'],
  [/Safari\//, 'Safari'],
];
const SYSTEMS: readonly [sign: RegExp, name: string][] = [
  [/Android/, 'Android'],
  [/iPhone|iPad/, 'iOS'],
  [/Windows/, 'Windows'],
  [/Mac OS/, 'macOS'],
  [/Linux/, 'Linux'],
];

/** What a browser says of itself (RFC 9110, 10.1.5), as people call it. */
export function browserInWords(agent: string): string {
  const named = (list: typeof BROWSERS) => list.find(([sign]) => sign.test(agent))?.[1];
  const [browser, system] = [named(BROWSERS), named(SYSTEMS)];
  if (!browser) return 'A browser or program';
  return system ? `${browser} on ${system}` : browser;
}
