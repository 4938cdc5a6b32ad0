import { useMemo } from 'react';
import type { SceneData } from '#core/geometry/scene';
import { sceneOfText } from '#server/views/structure/packed-scene';

/** A scene that a page was sent as text, the same one as long as the text is; null where there is none. */
export function useSentScene<Text extends string | null>(
  text: Text,
): Text extends null ? SceneData | null : SceneData;
export function useSentScene(text: string | null): SceneData | null {
  return useMemo(() => (text === null ? null : sceneOfText(text)), [text]);
}
