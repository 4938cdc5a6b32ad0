import { CUT_BODY } from './cut-body';
import type { GeometryJob } from './geometry-job';
import { ROUND_OUT } from './round-out';
import { SHAPE_BODIES } from './shape-bodies';
import { TRIM_BODIES } from './trim-bodies';
import { MESH_SOLIDS, UNITE_SOLIDS, UNITING_TROUBLE } from './unite-solids';

/**
 * All that the kernel can be asked to do, by name. One more is one module and its line here. Only the kernel's thread imports this for
 * more than its types.
 */
export const GEOMETRY_JOBS = {
  shapeBodies: SHAPE_BODIES,
  cutBody: CUT_BODY,
  uniteSolids: UNITE_SOLIDS,
  unitingTrouble: UNITING_TROUBLE,
  meshSolids: MESH_SOLIDS,
  trimBodies: TRIM_BODIES,
  roundOut: ROUND_OUT,
};

type Jobs = typeof GEOMETRY_JOBS;

export type JobName = keyof Jobs;

export type RequestOf<Name extends JobName> =
  Jobs[Name] extends GeometryJob<infer Request, infer _Told, infer _Result> ? Request : never;

export type ToldBy<Name extends JobName> =
  Jobs[Name] extends GeometryJob<infer _Request, infer Told, infer _Result> ? Told : never;

export type ResultOf<Name extends JobName> =
  Jobs[Name] extends GeometryJob<infer _Request, infer _Told, infer Result> ? Result : never;
