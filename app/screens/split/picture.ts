import type { SceneData } from '#core/geometry/scene';
import type { SplitChoices } from '#core/jobs/split/choices';
import type { SplitComponentView } from '#core/jobs/split/view';
import type { SplitBody } from '#server/views/operations/split-view';
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
      const { faceColours: _, ...plain } = body;
      return chosen ? { ...plain, colour: chosen } : body;
    }),
  };
}

/**
 * A label for each body that is split off, marked when a name was typed for its component or cannot be. Until then bodies that
 * share a component keep the names that they have.
 */
export function labelsOf(
  components: readonly SplitComponentView[],
  bodies: readonly SplitBody[],
  { names, bodyNames, naming }: Pick<SplitChoices, 'names' | 'bodyNames' | 'naming'>,
): StageLabel[] {
  return components.flatMap(({ name, problem, bodies: own }) => {
    const isTyped = names[bodies[own[0]!]!.id] !== undefined;
    const tone = problem ? 'problem' : isTyped ? 'typed' : undefined;
    const keepsNames = !isTyped && naming === 'body' && own.length > 1;
    return own.map((row) => {
      const { id, name: ownName } = bodies[row]!;
      const text = keepsNames ? bodyNames[id]?.trim() || ownName || name : name;
      return { row, text, name, tone };
    });
  });
}
