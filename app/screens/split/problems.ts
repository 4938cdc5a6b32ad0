import type { SplitComponentView } from '#core/jobs/split/view';

/** Why a component cannot be made under its name, and under which it could. */
export const problemInWords = ({ name, problem, proposal }: SplitComponentView): string =>
  `${name || 'A name'}: ${problem} ${proposal} would do.`;

/** Names that would do, for components that have none. */
export const proposedNames = (components: readonly SplitComponentView[]): [SplitComponentView, string][] =>
  components.flatMap((component) => (component.proposal ? [[component, component.proposal]] : []));
