import { operation } from '#core/operation';
import { PackageChoices } from './choices';
import type { HandOffPlan } from './plan';
import type { PackagePreview } from './view';

/** Packs files with everything they need. It changes no file of the project. */
export const PACKAGE = operation<PackageChoices, HandOffPlan, PackagePreview>({
  name: 'package',
  title: 'Hand-off',
  purpose: 'Pack files with everything they need.',
  place: 'give',
  page: 'hand-off',
  role: 'viewer',
  accepts: { what: 'file', parameter: 'root', also: 'also', roles: ['assembly', 'part', 'drawing'] },
  choices: PackageChoices,
  cost: 'quick',
  plan: async (context, choices) => (await import('./plan-package')).planPackage(context, choices),
  view: async (plan) => (await import('./view')).packagePreview(plan),
  form: async () => (await import('./command')).PACKAGE_FORM,
});
