import type { SplitChoices } from '#core/split/choices';
import type { SplitBody, SplitComponentView } from '#server/views/split-view';
import type { SceneData } from '#server/views/structure-view';
import type { StageLabel } from '../../stage/types';

/** The part with the bodies in the colours that the new files give them. */
export function sceneInChosenColours(
  scene: SceneData,
  bodies: readonly SplitBody[],
  colours: SplitChoices['colours'],
): SceneData {
  return {
    ...scene,
    bodies: scene.bodies.map((body, n) => {
      const chosen = colours[bodies[n]!.id];
      return chosen ? { url: body.url, node: body.node, colour: chosen } : body;
    }),
  };
}

/** A label for each body that is split off: the name of its component, marked when it was typed or cannot be. */
export function labelsOf(
  components: readonly SplitComponentView[],
  bodies: readonly SplitBody[],
  names: SplitChoices['names'],
): StageLabel[] {
  return components.flatMap(({ name, problem, bodies: own }) => {
    const tone = problem ? 'problem' : names[bodies[own[0]!]!.id] ? 'typed' : undefined;
    return own.map((row) => ({ row, text: name, name, tone }));
  });
}
