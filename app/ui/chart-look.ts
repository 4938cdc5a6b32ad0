/** How the numbers along an axis of a chart are set. */
export const TICK = { fontSize: 11, fill: 'var(--st-muted)' };

/** What stands at the pointer over a chart. */
export const TOOLTIP = {
  background: 'var(--st-raised)',
  borderColor: 'var(--st-line)',
  color: 'var(--st-ink)',
  fontSize: 12,
};
