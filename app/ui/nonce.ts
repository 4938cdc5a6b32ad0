import { createContext, useContext } from 'react';

/** The word by which the browser knows the page's own scripts from any that were smuggled in; empty in the browser. */
export const Nonce = createContext<string | undefined>(undefined);

export const useNonce = (): string | undefined => useContext(Nonce);
