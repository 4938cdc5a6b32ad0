import type { SpotlightActionData, SpotlightActionGroupData } from '@mantine/spotlight';
import type { Found, FoundEverywhere } from '#server/views/find/find';
import { addressIn } from '../address/addresses';
import classes from './Commands.module.css';

/** The kinds of what is found in the project, in the order in which they stand before the commands. */
const GROUPS: readonly [Found['what'], string][] = [
  ['file', 'Files'],
  ['part', 'Parts'],
  ['component', 'Components'],
  ['link', 'Links'],
];

/** What was found, as groups of the palette; each is opened where it is. */
export function foundActions(
  projectId: string,
  { found, others, projects }: FoundEverywhere,
  open: (address: string) => void,
): SpotlightActionGroupData[] {
  const entry = (one: Found): SpotlightActionData => {
    const { what, name, path, where, picture, project } = one;
    const home = project?.id ?? projectId;
    return {
      id: [what, home, path, name, where].join(' '),
      label: name,
      description: project ? `${project.name}: ${where}` : where,
      leftSection: (
        <span className={classes.picture}>
          {picture && (
            <img
              src={addressIn(home, 'picture', { path, version: picture.slice(0, 12) })}
              alt=""
              width={36}
              height={27}
              loading="lazy"
            />
          )}
        </span>
      ),
      onClick: () => open(addressOfFound(home, one)),
    };
  };
  return [
    ...GROUPS.map(([kind, group]) => ({
      group,
      actions: found.filter(({ what }) => what === kind).map(entry),
    })),
    { group: 'In other projects', actions: others.map(entry) },
    {
      group: 'Projects',
      actions: projects.map(({ id, name, description }) => ({
        id: `project ${id}`,
        label: name,
        description,
        onClick: () => open(addressIn(id, 'structure')),
      })),
    },
  ];
}

function addressOfFound(projectId: string, { what, name, path, broken }: Found): string {
  if (broken !== undefined) return addressIn(projectId, 'repair', { link: broken });
  if (what === 'part') return addressIn(projectId, 'structure', { root: path });
  if (what === 'component') return addressIn(projectId, 'structure', { root: path, q: name });
  return addressIn(projectId, 'files', { sel: path });
}
