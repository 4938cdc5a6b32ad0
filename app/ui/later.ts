import { type ComponentType, type LazyExoticComponent, lazy } from 'react';

/** Milliseconds between two tries. */
const PAUSE = 2000;

/**
 * A part of a page that is fetched after it. What cannot be fetched, since the connection is lost, is tried again: the page stays
 * meanwhile, without that part.
 */
export function later<Props extends object>(
  load: () => Promise<ComponentType<Props>>,
): LazyExoticComponent<ComponentType<Props>> {
  return lazy(async () => {
    for (;;)
      try {
        return { default: await load() };
      } catch {
        await new Promise((again) => setTimeout(again, PAUSE));
      }
  });
}
