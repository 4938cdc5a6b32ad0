import type { MantineColorScheme, MantineColorSchemeManager } from '@mantine/core';

const COOKIE = 'stonetray-colours';

/** A year in seconds. */
const KEPT = 31_536_000;

/** Light or dark as somebody has chosen in this browser; until then as its system says. */
export function coloursOf(cookies: string | null): MantineColorScheme {
  const chosen = new RegExp(`(?:^|; )${COOKIE}=(light|dark)(?:;|$)`).exec(cookies ?? '')?.[1];
  return (chosen as MantineColorScheme | undefined) ?? 'auto';
}

/** Keeps the choice in a cookie, so that the server draws the first page in it. */
export function keptInCookie(current: MantineColorScheme): MantineColorSchemeManager {
  let value = current;
  const write = (text: string, seconds: number) => {
    // biome-ignore lint/suspicious/noDocumentCookie: the other way is not in every browser
    document.cookie = `${COOKIE}=${text}; path=/; max-age=${seconds}; samesite=lax`;
  };
  return {
    get: () => value,
    set: (chosen) => {
      value = chosen;
      write(chosen, KEPT);
    },
    subscribe: () => {},
    unsubscribe: () => {},
    clear: () => {
      value = 'auto';
      write('', 0);
    },
  };
}
