import { createContext, useContext, useMemo } from 'react';
import { type Preferences, USUAL } from '#server/auth/preferences';
import { useIsHydrated } from '../useIsHydrated';
import { type Measures, measuresFor } from './measures';

/** How whoever looks reads numbers and times. */
export const PreferencesContext = createContext<Preferences>(USUAL);

/** Values as whoever looks reads them. The server does not know the browser's time zone: its first picture has UTC. */
export function useMeasures(): Measures {
  const preferences = useContext(PreferencesContext);
  const zone = useBrowserZone();
  return useMemo(() => measuresFor(preferences, zone), [preferences, zone]);
}

/** The time zone that the browser is in; null on the server. */
export function useBrowserZone(): string | null {
  return useIsHydrated() ? new Intl.DateTimeFormat().resolvedOptions().timeZone : null;
}
