import type { SceneData } from '#core/geometry/scene';
import type { LitePreview } from '#core/jobs/lite/view';

/** The whole as it is: what is left out is drawn faintly, before it goes. */
export function sceneBefore(scene: SceneData, preview: LitePreview | null): SceneData {
  if (!preview) return scene;
  return {
    bodies: scene.bodies,
    instances: scene.instances.map((instance) =>
      preview.fates[instance.row] ? { ...instance, tone: 'faint' as const } : instance,
    ),
  };
}

/** What is left, with bodies as they are after filling. */
export function sceneAfter(scene: SceneData, preview: LitePreview | null): SceneData {
  if (!preview) return scene;
  const bodies = [...scene.bodies];
  const filled = new Map<number, number>();
  const known = new Map<string, number>();
  for (const { row, body } of preview.filled) {
    const key = `${body.url} ${body.node}`;
    let at = known.get(key);
    if (at === undefined) {
      const before = scene.bodies[scene.instances[row]!.body]!;
      at = bodies.push({ ...body, colour: before.colour ?? body.colour }) - 1;
      known.set(key, at);
    }
    filled.set(row, at);
  }
  return {
    bodies,
    instances: scene.instances.flatMap((instance) =>
      preview.fates[instance.row] ? [] : [{ ...instance, body: filled.get(instance.row) ?? instance.body }],
    ),
  };
}
