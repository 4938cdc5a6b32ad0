import { Button, Menu, Tabs, UnstyledButton } from '@mantine/core';
import { useEffect } from 'react';
import { Link, useFetcher } from 'react-router';
import type { FileToWorkOn } from '#core/accepts';
import type { FileFacts } from '#server/views/files/file-facts';
import type { StructureViewRow } from '#server/views/structure/structure-view';
import { addressIn, downloadAddress } from '../../ui/address/addresses';
import { bytes, count, length, mass, plural, time, USES, volume } from '../../ui/format';
import { LinkMark } from '../../ui/LinkMark';
import { OperationItems } from '../../ui/operation/OperationItems';
import { CameOutOf } from '../../ui/project/CameOutOf';
import { FileLink } from '../../ui/project/FileLink';
import { MadeLighter } from '../../ui/project/MadeLighter';
import classes from './FactsDrawer.module.css';

interface FactsDrawerProps {
  row: StructureViewRow | undefined;
  /** The rows above it, the top one first. */
  above: readonly StructureViewRow[];
  /** All that are selected, where it is more than one. */
  several: readonly StructureViewRow[] | null;
  /** Selects another row by its key. */
  onSelect: (key: string) => void;
  /** Its file, as far as there is one. */
  files: readonly FileToWorkOn[];
  pickedName: string | null;
  projectId: string;
}

/** What is known of the selected component: its facts, what it uses, where it is used, its versions. */
export function FactsDrawer({
  row,
  above,
  several,
  onSelect,
  files,
  pickedName,
  projectId,
}: FactsDrawerProps) {
  const fetcher = useFetcher<FileFacts>();
  const { load } = fetcher;
  const file = row && row.link?.state !== 'missing' && row.link?.state !== 'ambiguous' ? row.file : undefined;
  useEffect(() => {
    if (file !== undefined) void load(addressIn(projectId, 'file-facts', { path: file }));
  }, [file, projectId, load]);
  if (several)
    return (
      <aside className={classes.drawer} data-empty aria-label="What is selected">
        {severalInWords(several)}
      </aside>
    );
  if (!row)
    return (
      <aside className={classes.drawer} data-empty>
        Select a component in the table or on the model to see its facts.
      </aside>
    );

  const facts = fetcher.data;
  const box = row.box;
  return (
    <aside className={classes.drawer} aria-label={`Facts about ${row.name}`}>
      <Tabs defaultValue="facts" classNames={{ tab: classes.tab, panel: classes.panel }}>
        <div className={classes.head}>
          <Tabs.List>
            <Tabs.Tab value="facts">{row.name}</Tabs.Tab>
            <Tabs.Tab value="uses" disabled={!facts}>
              Uses {facts ? facts.uses.length : ''}
            </Tabs.Tab>
            <Tabs.Tab value="usedBy" disabled={!facts}>
              Used in {facts ? facts.usedBy.length : ''}
            </Tabs.Tab>
            <Tabs.Tab value="versions" disabled={!facts}>
              Versions {facts ? facts.versions.length : ''}
            </Tabs.Tab>
          </Tabs.List>
          {files.length > 0 && (
            <Menu position="top-end">
              <Menu.Target>
                <Button variant="default" size="compact-sm" className={classes.change}>
                  What can be done
                </Button>
              </Menu.Target>
              <Menu.Dropdown>
                <OperationItems files={files} />
              </Menu.Dropdown>
            </Menu>
          )}
        </div>
        <Tabs.Panel value="facts">
          {row.link && row.link.state !== 'sound' && (
            <p className={classes.trouble}>
              <LinkMark state={row.link.state} /> {row.link.reason}{' '}
              <Link to={addressIn(projectId, 'repair', { link: `${row.link.holder}::${row.link.written}` })}>
                Repair it
              </Link>
            </p>
          )}
          {row.troubles.map((trouble) => (
            <p key={trouble} className={classes.trouble}>
              {trouble}
            </p>
          ))}
          {above.length > 0 && (
            <nav className={classes.above} aria-label="Where it sits">
              {above.map(({ key, name }) => (
                <span key={key}>
                  <UnstyledButton className={classes.crumb} onClick={() => onSelect(key)}>
                    {name}
                  </UnstyledButton>{' '}
                  ›{' '}
                </span>
              ))}
              {row.name}
            </nav>
          )}
          <dl className={classes.facts}>
            <Fact name="Product id" value={row.product || '—'} />
            <Fact name="File" value={row.link || row.depth === 0 ? row.file : `inside ${row.file}`} mono />
            {pickedName && <Fact name="Picked" value={pickedName} />}
            <Fact name="Placed" value={`${plural(row.total, 'time')} in all`} />
            <Fact
              name="Bodies"
              value={row.children > 0 ? `${count(row.totals.bodies)} in all` : count(row.bodies)}
            />
            {row.children > 0 && <Fact name="Files" value={`${count(row.totals.files)} in all`} />}
            {row.use && <Fact name="Use" value={USES[row.use]} />}
            {row.material && <Fact name="Material" value={row.material} />}
            {!!row.totals.volume && <Fact name="Volume" value={volume(row.totals.volume)} mono />}
            {!!row.totals.mass && <Fact name="Mass" value={mass(row.totals.mass)} mono />}
            {box && (
              <Fact
                name="Box"
                value={`${length(box[3]! - box[0]!)} × ${length(box[4]! - box[1]!)} × ${length(box[5]! - box[2]!)}`}
                mono
              />
            )}
            {facts && facts.drawings.length > 0 && (
              <Fact
                name={facts.drawings.length === 1 ? 'Drawing' : 'Drawings'}
                value={facts.drawings.map((drawing) => (
                  <FileLink key={drawing} projectId={projectId} path={drawing} />
                ))}
              />
            )}
            {facts && (facts.sources.length > 0 || facts.cameOut > 0) && (
              <Fact
                name={facts.sources.length > 0 ? 'Came out of' : 'Source of'}
                value={<CameOutOf {...facts} projectId={projectId} />}
              />
            )}
            {facts?.made && <Fact name="Made lighter" value={<MadeLighter report={facts.made} />} />}
          </dl>
        </Tabs.Panel>
        <Tabs.Panel value="uses">
          <LinkList
            links={
              facts?.uses.map(({ kind, written, to, state, reason }) => ({
                text: written,
                path: to,
                isComponent: kind === 'component',
                state,
                reason,
              })) ?? []
            }
            projectId={projectId}
            empty="It uses no other file."
          />
        </Tabs.Panel>
        <Tabs.Panel value="usedBy">
          <LinkList
            links={
              facts?.usedBy.map(({ kind, holder, state, reason }) => ({
                text: holder,
                path: holder,
                isComponent: kind === 'component',
                state,
                reason,
              })) ?? []
            }
            projectId={projectId}
            empty="No other file uses it."
          />
        </Tabs.Panel>
        <Tabs.Panel value="versions">
          <ul className={classes.list}>
            {facts?.versions.map((version) => (
              <li key={version.version}>
                <span className={classes.number}>{version.version}</span>
                <span>{version.note}</span>
                <span className="muted">
                  {version.who}, {time(version.time)}
                </span>
                <span className={classes.number}>{bytes(version.bytes)}</span>
                <a href={downloadAddress(projectId, version.sha256)}>Download</a>
              </li>
            ))}
          </ul>
        </Tabs.Panel>
      </Tabs>
    </aside>
  );
}

function Fact({ name, value, mono }: { name: string; value: React.ReactNode; mono?: boolean }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd className={mono ? 'mono' : undefined}>{value}</dd>
    </div>
  );
}

function LinkList({
  links,
  empty,
  projectId,
}: {
  links: {
    text: string;
    /** Where it leads; null where it leads nowhere. */
    path: string | null;
    /** What it leads to has a structure of its own. */
    isComponent: boolean;
    state: Parameters<typeof LinkMark>[0]['state'];
    reason: string;
  }[];
  empty: string;
  projectId: string;
}) {
  if (links.length === 0) return <p className="muted">{empty}</p>;
  return (
    <ul className={classes.list}>
      {links.map(({ text, path, isComponent, state, reason }) => (
        <li key={`${text} ${path}`}>
          <LinkMark state={state} />
          {path !== null && isComponent ? (
            <Link className="mono" to={addressIn(projectId, 'structure', { root: path })}>
              {path}
            </Link>
          ) : (
            <FileLink projectId={projectId} path={path} written={text} />
          )}
          <span className="muted">{reason}</span>
        </li>
      ))}
    </ul>
  );
}

/** What several components are together, each as often as it is placed. */
function severalInWords(rows: readonly StructureViewRow[]): string {
  const bodies = rows.reduce((sum, { total, totals }) => sum + total * totals.bodies, 0);
  const sumOf = (what: 'volume' | 'mass') =>
    rows.every(({ totals }) => totals[what] !== null)
      ? rows.reduce((sum, { total, totals }) => sum + total * totals[what]!, 0)
      : null;
  const [space, weight] = [sumOf('volume'), sumOf('mass')];
  return [
    `${plural(rows.length, 'row')} selected: ${plural(bodies, 'body', 'bodies')}`,
    space && volume(space),
    weight && mass(weight),
  ]
    .filter(Boolean)
    .join(', ');
}
