import { FLANGE_BOLTS, LID_SCREWS } from './drive';

/** A drawing sheet as SVG: it names the model that it shows in its metadata, as drawings do here. */
function sheet(title: string, number: string, model: string, body: string): string {
  return `<?xml version="1.0" encoding="UTF-8"?>
<svg xmlns="http://www.w3.org/2000/svg" width="420mm" height="297mm" viewBox="0 0 420 297">
  <metadata>
    <rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#" xmlns:dcterms="http://purl.org/dc/terms/">
      <rdf:Description rdf:about="">
        <dcterms:title>${title}</dcterms:title>
        <dcterms:references rdf:resource="${model}"/>
      </rdf:Description>
    </rdf:RDF>
  </metadata>
  <rect x="10" y="10" width="400" height="277" fill="#fff" stroke="#000" stroke-width="0.7"/>
  <g fill="none" stroke="#000" stroke-width="0.5">
${body}
  </g>
  <g font-family="sans-serif" font-size="5">
    <path d="M250 262H410M250 262V287" stroke="#000" stroke-width="0.5"/>
    <text x="255" y="271">${title}</text>
    <text x="255" y="280">${number}   HX-12 heliostat   1:2</text>
  </g>
</svg>
`;
}

const circle = (x: number, y: number, radius: number) =>
  `    <circle cx="${x.toFixed(2)}" cy="${y.toFixed(2)}" r="${radius}"/>`;
const centreMarks = (x: number, y: number, reach: number) =>
  `    <path d="M${x - reach} ${y}H${x + reach}M${x} ${y - reach}V${y + reach}" stroke-width="0.2" stroke-dasharray="6 1.5 1 1.5"/>`;

const lid = sheet(
  'Housing lid',
  'HX12-211-D',
  '../azimuth-drive/az-lid.stp',
  [
    '    <rect x="75" y="60" width="210" height="150" rx="13"/>',
    circle(180, 135, 48),
    circle(180, 135, 28),
    centreMarks(180, 135, 120),
    ...LID_SCREWS.flatMap(([x, y]) => [
      circle(180 + x / 2, 135 - y / 2, 1.65),
      circle(180 + x / 2, 135 - y / 2, 3),
    ]),
  ].join('\n'),
);

const flange = sheet(
  'Output flange',
  'HX12-215-D',
  '../azimuth-drive/output-flange.stp',
  [
    circle(180, 135, 65),
    circle(180, 135, 15),
    circle(180, 135, 30),
    centreMarks(180, 135, 75),
    ...FLANGE_BOLTS.map(([x, y]) => circle(180 + x / 2, 135 - y / 2, 2.75)),
  ].join('\n'),
);

/** A box of a control cabinet as a neighbour's program exports it: a mesh with its materials and an image. */
function controlBox(): { obj: string; mtl: string } {
  const corners = (x: number, y: number, z: number, at: [number, number, number]) =>
    Array.from(
      { length: 8 },
      (_, n) => `v ${at[0] + (n & 1) * x} ${at[1] + ((n >> 1) & 1) * y} ${at[2] + ((n >> 2) & 1) * z}`,
    );
  const faces = (first: number) =>
    [
      [0, 2, 3, 1],
      [4, 5, 7, 6],
      [0, 1, 5, 4],
      [2, 6, 7, 3],
      [0, 4, 6, 2],
      [1, 3, 7, 5],
    ].map((face) => `f ${face.map((n) => n + first).join(' ')}`);
  const obj = [
    '# control box of the HX-12, exported in millimetres',
    'mtllib control-box.mtl',
    'o cabinet',
    ...corners(300, 160, 400, [0, 0, 0]),
    'usemtl cabinet',
    ...faces(1),
    'o door',
    ...corners(280, 6, 380, [10, -6, 10]),
    'usemtl door',
    ...faces(9),
    'o name-plate',
    ...corners(80, 1, 40, [110, -7, 320]),
    'usemtl plate',
    ...faces(17),
  ].join('\n');
  const mtl = [
    'newmtl cabinet',
    'Kd 0.78 0.78 0.74',
    'newmtl door',
    'Kd 0.70 0.71 0.68',
    'newmtl plate',
    'Kd 1 1 1',
    'map_Kd name-plate.png',
  ].join('\n');
  return { obj: `${obj}\n`, mtl: `${mtl}\n` };
}

const REPORT = `# HX-12: stiffness of the mirror frame

Load case: wind 14 m/s from the front, mirror at 35 degrees. All values are made up for the demonstration.

| place | deflection | stress |
| --- | ---: | ---: |
| torque tube, middle | 0.8 mm | 31 MPa |
| rib R1400, tip | 2.6 mm | 44 MPa |
| actuator ear | 0.1 mm | 58 MPa |

Model: mirror/mirror-frame.stp
`;

/** The files of the demo that are no STEP files. */
export function papers(): { file: string; content: string }[] {
  const { obj, mtl } = controlBox();
  return [
    { file: 'drawings/az-lid.svg', content: lid },
    { file: 'drawings/output-flange.svg', content: flange },
    { file: 'control/control-box.obj', content: obj },
    { file: 'control/control-box.mtl', content: mtl },
    { file: 'reports/frame-stiffness.md', content: REPORT },
  ];
}
