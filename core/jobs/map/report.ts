import { z } from 'zod';
import { columns, plural } from '#core/command/words';
import { isBroken } from '#core/files/links/resolve';
import { type LinkMap, linkMap } from '#core/project/scan/link-map';
import { Refusal } from '#core/refusal';
import { report } from '#core/report';

const folders = z.array(z.string().max(4000)).max(2000).default([]);

export const MapChoices = z.object({
  file: z.string().max(4000).nullable().default(null).describe('draw what is around this file only'),
  steps: z.number().int().min(1).max(6).default(2).describe('so many links away from it'),
  opened: folders.describe('folders that are opened, however many files there are'),
  closed: folders.describe('folders that stay closed'),
});
export type MapChoices = z.infer<typeof MapChoices>;

/** The links of a project as a graph that can be read: folded by folders where there are many files. */
export const MAP = report<MapChoices, LinkMap>({
  name: 'map',
  title: 'Map',
  purpose: 'Draw files and the links between them, folded by folders where there are many.',
  place: 'links',
  page: 'map',
  accepts: { what: 'file', parameter: 'file' },
  choices: MapChoices,
  cost: 'quick',
  async look(context, { file, steps, opened, closed }) {
    const project = await context.project();
    if (file !== null && !project.files.has(file)) throw new Refusal(`There is no file ${file}.`);
    return linkMap(project, { focus: file, steps, opened, closed });
  },
  words: (map) => [
    ...columns(
      map.edges.map(({ from, to, kind, state, count }) => [
        from,
        '->',
        to,
        kind,
        state,
        count > 1 ? `${count} links` : '',
      ]),
    ),
    ...(map.edges.length > 0 ? [''] : []),
    inWords(map),
  ],
  summary: inWords,
});

function inWords({ nodes, edges, files }: LinkMap): string {
  const folded = nodes.filter(({ what }) => what === 'folder').length;
  const broken = edges.reduce((sum, { state, count }) => sum + (isBroken(state) ? count : 0), 0);
  const links = edges.reduce((sum, { count }) => sum + count, 0);
  return [
    `${plural(files, 'file')}, ${plural(links, 'link')}`,
    folded > 0 ? `, ${plural(folded, 'folder')} closed` : '',
    broken > 0 ? `; ${plural(broken, 'link')} broken.` : '.',
  ].join('');
}
