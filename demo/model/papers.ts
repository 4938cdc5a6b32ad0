import { strToU8, zipSync } from 'fflate';
import { REFERENCES } from '#core/project/formats/dxf';
import { MANIFEST_NAME, withEntries } from '#core/project/formats/manifest';
import { FLANGE_BOLTS, LID_SCREWS } from './drive';
import { DEMO_TIME } from './write-part';

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

/** A drawing as text of DXF: it names its model by a property of the document (docs/link-formats.md). */
function basePlate(): string {
  const circle = (x: number, y: number, radius: number) => [0, 'CIRCLE', 8, '0', 10, x, 20, y, 40, radius];
  const line = (x1: number, y1: number, x2: number, y2: number) => [
    ...[0, 'LINE', 8, '0', 10, x1, 20, y1],
    ...[11, x2, 21, y2],
  ];
  const bolts = Array.from({ length: 8 }, (_, n) => (n * Math.PI) / 4);
  const groups = [
    ...[0, 'SECTION', 2, 'HEADER', 9, '$ACADVER', 1, 'AC1032', 9, '$INSUNITS', 70, 4],
    ...[9, '$CUSTOMPROPERTYTAG', 1, REFERENCES, 9, '$CUSTOMPROPERTY', 1, '../pedestal/pedestal-post.stp'],
    ...[0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES'],
    ...circle(0, 0, 310),
    ...circle(0, 0, 120),
    ...bolts.flatMap((angle) => circle(260 * Math.cos(angle), 260 * Math.sin(angle), 13)),
    ...line(-340, 0, 340, 0),
    ...line(0, -340, 0, 340),
    ...[0, 'ENDSEC', 0, 'EOF'],
  ];
  return groups.map((value) => `${value}\n`).join('');
}

/** The control box once more, in one package. */
function controlPackage(): Uint8Array {
  const corners = Array.from({ length: 8 }, (_, n) => [
    (n & 1) * 300,
    ((n >> 1) & 1) * 160,
    ((n >> 2) & 1) * 400,
  ]);
  const faces = [
    [0, 2, 1],
    [1, 2, 3],
    [4, 5, 6],
    [5, 7, 6],
    [0, 1, 5],
    [0, 5, 4],
    [2, 6, 7],
    [2, 7, 3],
    [0, 4, 6],
    [0, 6, 2],
    [1, 3, 7],
    [1, 7, 5],
  ];
  const model = `<?xml version="1.0" encoding="UTF-8"?>
<model unit="millimeter" xml:lang="en" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02">
<resources><object id="1" type="model" name="control box"><mesh>
<vertices>${corners.map(([x, y, z]) => `<vertex x="${x}" y="${y}" z="${z}"/>`).join('')}</vertices>
<triangles>${faces.map(([a, b, c]) => `<triangle v1="${a}" v2="${b}" v3="${c}"/>`).join('')}</triangles>
</mesh></object></resources>
<build><item objectid="1"/></build>
</model>
`;
  const relations = (inside: string) =>
    `<?xml version="1.0" encoding="UTF-8"?>\n<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${inside}</Relationships>\n`;
  return zipSync(
    {
      '[Content_Types].xml': strToU8(
        '<?xml version="1.0" encoding="UTF-8"?>\n<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>\n',
      ),
      '_rels/.rels': strToU8(
        relations(
          '<Relationship Target="/3D/3dmodel.model" Id="r0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/>',
        ),
      ),
      '3D/3dmodel.model': strToU8(model),
    },
    { mtime: new Date(DEMO_TIME) },
  );
}

/** The same figures as somebody noted them down. */
const NOTES = `# HX-12: stiffness of the mirror frame

Load case: wind 14 m/s from the front, mirror at 35 degrees. All values are made up for the demonstration.

| place | deflection | stress |
| --- | ---: | ---: |
| torque tube, middle | 0.8 mm | 31 MPa |
| rib R1400, tip | 2.6 mm | 44 MPa |
| actuator ear | 0.1 mm | 58 MPa |

Model: mirror/mirror-frame.stp
`;

const REPORT = `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<title>HX-12: stiffness of the mirror frame</title>
<style>
body { font: 15px/1.5 sans-serif; max-width: 44rem; margin: 2rem auto; padding: 0 1rem; }
table { border-collapse: collapse; }
td, th { padding: 4px 14px; border-bottom: 1px solid #ccc; text-align: left; }
td + td { text-align: right; }
</style>
</head>
<body>
<h1>HX-12: stiffness of the mirror frame</h1>
<p>Load case: wind 14 m/s from the front, mirror at 35 degrees. All values are made up for the demonstration.
Model: <a href="../mirror/mirror-frame.stp">mirror frame</a>.</p>
<table>
<tr><th>Place</th><th>Deflection</th><th>Stress</th></tr>
<tr><td>torque tube, middle</td><td>0.8 mm</td><td>31 MPa</td></tr>
<tr><td>rib R1400, tip</td><td>2.6 mm</td><td>44 MPa</td></tr>
<tr><td>actuator ear</td><td>0.1 mm</td><td>58 MPa</td></tr>
</table>
<p><img src="../control/name-plate.png" alt="Name plate" width="160"></p>
</body>
</html>
`;

/** The manifest: what belongs to what, and which parts are standard. */
function manifest(): Uint8Array {
  return withEntries(undefined, () => ({
    attachments: [
      { file: 'reports/frame-stiffness.html', to: 'mirror/mirror-frame.stp', note: 'stiffness report' },
      { file: 'control/name-plate.png', to: 'pedestal/pedestal.stp', note: 'name plate' },
    ],
    standard: [{ folder: 'standard' }],
  }));
}

/** The files of the demo that are no STEP files. */
export function papers(): { file: string; content: string | Uint8Array }[] {
  const { obj, mtl } = controlBox();
  return [
    { file: 'drawings/az-lid.svg', content: lid },
    { file: 'drawings/output-flange.svg', content: flange },
    { file: 'drawings/base-plate.dxf', content: basePlate() },
    { file: 'control/control-box.obj', content: obj },
    { file: 'control/control-box.mtl', content: mtl },
    { file: 'control/control-box.3mf', content: controlPackage() },
    { file: 'reports/frame-stiffness.md', content: NOTES },
    { file: 'reports/frame-stiffness.html', content: REPORT },
    { file: MANIFEST_NAME, content: manifest() },
  ];
}
