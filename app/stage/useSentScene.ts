import { useMemo } from 'react';
import type { SceneData } from '#core/geometry/scene';
import { sceneOfText } from '#server/views/packed/packed-scene';
import { useIsHydrated } from '../ui/useIsHydrated';

/** A scene that a page was sent as text, the same one as long as the text is; null where there is none. */
export function useSentScene<Text extends string | null>(
  text: Text,
): Text extends null ? SceneData | null : SceneData;
export function useSentScene(text: string | null): SceneData | null {
  const isHydrated = useIsHydrated();
  // Nothing is drawn on the server, and reading a large scene there would let everybody wait.
  const read = text === null || isHydrated || text.length < LARGE ? text : NOTHING;
  return useMemo(() => (read === null ? null : read === NOTHING ? EMPTY : sceneOfText(read)), [read]);
}

/** Characters of a text that takes longer to read than other requests should wait. */
export const LARGE = 300_000;

const NOTHING = '';
const EMPTY: SceneData = { bodies: [], instances: [] };
