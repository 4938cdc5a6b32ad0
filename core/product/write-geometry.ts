import {
  DERIVED,
  Enumeration,
  type Parameter,
  Real,
  type Reference,
  Typed,
} from '#core/files/part21/parameters';
import type { Part21Builder } from '#core/files/part21/write';
import type { Matrix4 } from './matrix';

const MILLIMETRES = { mm: 1, m: 1000, in: 25.4 };

/** A representation context with a length unit, radians, and an uncertainty of a thousandth of a millimetre. */
export function addGeometryContext(builder: Part21Builder, unit: 'mm' | 'm' | 'in'): Reference {
  const si = (prefix: string | null, name: string, kind: string) =>
    builder.addComplex(
      { keyword: kind, parameters: [] },
      { keyword: 'NAMED_UNIT', parameters: [DERIVED] },
      { keyword: 'SI_UNIT', parameters: [prefix ? new Enumeration(prefix) : null, new Enumeration(name)] },
    );
  let length = si(unit === 'm' ? null : 'MILLI', 'METRE', 'LENGTH_UNIT');
  if (unit === 'in') {
    const dimensions = builder.add(
      'DIMENSIONAL_EXPONENTS',
      ...[1, 0, 0, 0, 0, 0, 0].map((exponent) => new Real(exponent)),
    );
    const measure = builder.addComplex({
      keyword: 'LENGTH_MEASURE_WITH_UNIT',
      parameters: [lengthMeasure(25.4), length],
    });
    length = builder.addComplex(
      { keyword: 'CONVERSION_BASED_UNIT', parameters: ['INCH', measure] },
      { keyword: 'LENGTH_UNIT', parameters: [] },
      { keyword: 'NAMED_UNIT', parameters: [dimensions] },
    );
  }
  const angle = si(null, 'RADIAN', 'PLANE_ANGLE_UNIT');
  const solidAngle = si(null, 'STERADIAN', 'SOLID_ANGLE_UNIT');
  const uncertainty = builder.add(
    'UNCERTAINTY_MEASURE_WITH_UNIT',
    lengthMeasure(0.001 / MILLIMETRES[unit]),
    length,
    'distance_accuracy_value',
    'edge curve and vertex point accuracy',
  );
  return builder.addComplex(
    { keyword: 'GEOMETRIC_REPRESENTATION_CONTEXT', parameters: [3] },
    { keyword: 'GLOBAL_UNCERTAINTY_ASSIGNED_CONTEXT', parameters: [[uncertainty]] },
    { keyword: 'GLOBAL_UNIT_ASSIGNED_CONTEXT', parameters: [[length, angle, solidAngle]] },
    { keyword: 'REPRESENTATION_CONTEXT', parameters: ['', '3D'] },
  );
}

/** Writes a placement given in millimetres as AXIS2_PLACEMENT_3D in the file's unit. */
export function addAxisPlacement(builder: Part21Builder, m: Matrix4, millimetres: number): Reference {
  const real = (values: number[]) => values.map((value) => new Real(value));
  const point = builder.add(
    'CARTESIAN_POINT',
    '',
    real([m[3]! / millimetres, m[7]! / millimetres, m[11]! / millimetres]),
  );
  const z = builder.add('DIRECTION', '', real([m[2]!, m[6]!, m[10]!]));
  const x = builder.add('DIRECTION', '', real([m[0]!, m[4]!, m[8]!]));
  return builder.add('AXIS2_PLACEMENT_3D', '', point, z, x);
}

function lengthMeasure(value: number): Parameter {
  return new Typed('LENGTH_MEASURE', new Real(value));
}
