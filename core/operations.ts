import { plainEntry, type RegistryEntry } from './entry';
import { DISMISS } from './jobs/advice/dismiss-operation';
import { ADVICE } from './jobs/advice/report';
import { DISSOLVE, GROUP_OCCURRENCES, MOVE_OCCURRENCES, TAKE_AWAY } from './jobs/arrange/operation';
import { ATTACH } from './jobs/attach/operation';
import { BODIES } from './jobs/bodies/report';
import { MATERIAL } from './jobs/bom/material-operation';
import { BOM } from './jobs/bom/report';
import { COMPARE } from './jobs/compare/report';
import { MAKE_COMPONENTS } from './jobs/components/operation';
import { CUT } from './jobs/cut/operation';
import { DETACH, followBy } from './jobs/follow/operation';
import { GROUPS } from './jobs/groups/operation';
import { PACKAGE } from './jobs/handoff/operation';
import { HISTORY } from './jobs/history/report';
import { IMPORT, UNPACK } from './jobs/import/operation';
import { LEAKS } from './jobs/leaks/report';
import { LITE } from './jobs/lite/operation';
import { MAP } from './jobs/map/report';
import { MOVE } from './jobs/move/operation';
import { OWN_COPY, PLACE, PLACE_AGAIN, REPLACE, SET_PLACEMENT } from './jobs/place/operation';
import { byPreset, keepPresetBy } from './jobs/presets/operation';
import { PUBLISH, renewCatalogueBy } from './jobs/publish/operation';
import { PUT_OUT } from './jobs/putout/operation';
import { REMOVE } from './jobs/remove/operation';
import { RENAME } from './jobs/rename/operation';
import { REPAIR } from './jobs/repair/operation';
import { RENEW } from './jobs/repair/renew-operation';
import { SCAN } from './jobs/scan/report';
import { SEAL } from './jobs/seal/operation';
import { SPLIT } from './jobs/split/operation';
import { STAND_IN } from './jobs/stand-in/operation';
import { TAKE_IN } from './jobs/takein/operation';
import { TREE } from './jobs/tree/report';
import { REDO, UNDO } from './jobs/undo/operation';
import { USED_IN, USES } from './jobs/uses/report';
import { VERIFY } from './jobs/verify/report';
import { VIEW } from './jobs/view/operation';
import type { Operation } from './operation';
import type { Report } from './report';

/** Everything that can be done or asked, in the order of its place. One more is its folder and its line here. */
// biome-ignore lint/suspicious/noExplicitAny: each has choices and a preview of its own
export const REGISTRY: readonly (Operation<any, any, any> | Report<any, any>)[] = [
  TREE,
  VIEW,
  BOM,
  MATERIAL,
  PUT_OUT,
  TAKE_IN,
  MOVE_OCCURRENCES,
  GROUP_OCCURRENCES,
  DISSOLVE,
  TAKE_AWAY,
  OWN_COPY,
  PLACE,
  PLACE_AGAIN,
  SET_PLACEMENT,
  REPLACE,
  MAKE_COMPONENTS,
  RENAME,
  ADVICE,
  DISMISS,
  REPAIR,
  SCAN,
  USES,
  USED_IN,
  MAP,
  RENEW,
  followBy(operationNamed),
  DETACH,
  ATTACH,
  SPLIT,
  CUT,
  PACKAGE,
  LITE,
  STAND_IN,
  GROUPS,
  SEAL,
  keepPresetBy(operationNamed),
  byPreset(operationNamed),
  PUBLISH,
  renewCatalogueBy(operationNamed),
  MOVE,
  REMOVE,
  UNDO,
  REDO,
  IMPORT,
  UNPACK,
  BODIES,
  LEAKS,
  COMPARE,
  VERIFY,
  HISTORY,
];

/** Everything, as menus and the palette show it. */
export function registryEntries(): RegistryEntry[] {
  return REGISTRY.map(plainEntry);
}

/** The operation of a name, if there is one. */
// biome-ignore lint/suspicious/noExplicitAny: as above
export function operationNamed(name: string): Operation<any, any, any> | undefined {
  const found = REGISTRY.find((candidate) => candidate.name === name);
  return found?.kind === 'operation' ? found : undefined;
}

/** The report of a name, if there is one. */
// biome-ignore lint/suspicious/noExplicitAny: as above
export function reportNamed(name: string): Report<any, any> | undefined {
  const found = REGISTRY.find((candidate) => candidate.name === name);
  return found?.kind === 'report' ? found : undefined;
}
