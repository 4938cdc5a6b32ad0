import type { Stage as RealStage } from '../stage/Stage';

/**
 * Stands in for the stage where there is no WebGL: names the bodies of the scene, tells which are selected, and picks
 * one when it is pressed. Use: `vi.mock('…/stage/Stage', () => import('…/testing/stage-stand-in'))`.
 */
export function Stage({
  scene,
  selected,
  hidden,
  labels,
  onPick,
  children,
}: React.ComponentProps<typeof RealStage>) {
  return (
    <section aria-label="Stage">
      {scene.instances.map(({ row, name }, n) => (
        <button
          // biome-ignore lint/suspicious/noArrayIndexKey: placings have no identity of their own
          key={n}
          type="button"
          aria-label={`Body ${name}`}
          aria-pressed={selected?.has(row) ?? false}
          data-hidden={hidden?.has(row) || undefined}
          data-colour={scene.bodies[scene.instances[n]!.body]!.colour}
          onClick={({ ctrlKey }) => onPick?.({ row, name }, ctrlKey)}
        />
      ))}
      {labels?.map(({ row, text, tone }) => (
        <span key={row} data-testid="label" data-tone={tone}>
          {text}
        </span>
      ))}
      <button type="button" onClick={() => onPick?.(null, false)}>
        Beside the model
      </button>
      {children}
    </section>
  );
}
