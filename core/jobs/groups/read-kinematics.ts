import type { Part21File } from '#core/files/part21/file';
import { numberOf, referenceOf, textOf } from '#core/files/part21/parameters';
import { axisPlacement } from '#core/product/placements';
import { lengthUnitOfContext } from '#core/product/units';
import { JOINT_KINDS, type Joint } from './choices';
import type { Freedom } from './freedoms';
import { frameOf, PAIR, RANGES } from './write-kinematics';

/** The mechanism that a file describes: links by name, the base first, and joints where the model stands as it is drawn. */
export function readKinematics(file: Part21File): { links: string[]; joints: Joint[] } {
  const name = (id: number | undefined) => file.stringOf(id, 0)?.text ?? '';
  const context = file.referenceOf(file.idsOfType('MECHANISM_REPRESENTATION')[0], 2);
  const millimetres =
    (context === undefined ? undefined : lengthUnitOfContext(file, context)?.millimetres) ?? 1;
  const rigid = file.referenceOf(file.idsOfType('KINEMATIC_PROPERTY_MECHANISM_REPRESENTATION')[0], 2);
  const base = file.referenceOf(rigid, 3);
  const ids = [...file.idsOfType('KINEMATIC_LINK')].sort((a, b) => Number(b === base) - Number(a === base));
  const joints = JOINT_KINDS.flatMap((kind) =>
    [PAIR[kind], `${PAIR[kind]}_WITH_RANGE`].flatMap((written) =>
      file.idsOfType(written).flatMap((id): Joint[] => {
        const parameters = file.parameters(id) ?? [];
        const frame = axisPlacement(file, referenceOf(parameters[3]), millimetres);
        const joint = referenceOf(parameters[5]);
        if (!frame || joint === undefined) return [];
        const range = parameters.slice(12).map((value) => numberOf(value) ?? null);
        const pair = (what: Freedom, factor: number): [number, number] | null => {
          const at = 2 * RANGES[kind].indexOf(what);
          const [low, high] = [range[at] ?? null, range[at + 1] ?? null];
          return low === null || high === null ? null : [low * factor, high * factor];
        };
        const degrees = 180 / Math.PI;
        const at: Joint['at'] = [frame[3]!, frame[7]!, frame[11]!];
        const direction: Joint['direction'] = [frame[2]!, frame[6]!, frame[10]!];
        // Limits of a plane's directions hold for those that we give a plane, and for no others.
        const isOurs = frameOf({ at, direction }).every((value, n) => Math.abs(value - frame[n]!) < 1e-6);
        return [
          {
            name: textOf(parameters[0]) ?? '',
            between: [name(file.referenceOf(joint, 1)), name(file.referenceOf(joint, 2))],
            kind,
            at,
            direction,
            turn: pair('turn', degrees),
            way: pair('way', millimetres),
            slideX: isOurs ? pair('slideX', millimetres) : null,
            slideY: isOurs ? pair('slideY', millimetres) : null,
          },
        ];
      }),
    ),
  );
  return { links: ids.map(name), joints };
}
