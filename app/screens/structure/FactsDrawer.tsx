import { Button, Menu, Tabs } from '@mantine/core';
import { useEffect } from 'react';
import { useFetcher } from 'react-router';
import type { FileToWorkOn } from '#core/accepts';
import type { FileFacts } from '#server/views/files/file-facts';
import type { StructureViewRow } from '#server/views/structure/structure-view';
import { addressIn, downloadAddress } from '../../ui/address/addresses';
import { Bytes } from '../../ui/measures/Figures';
import { Time } from '../../ui/measures/Time';
import { useMeasures } from '../../ui/measures/useMeasures';
import { OperationItems } from '../../ui/operation/OperationItems';
import { ComponentFacts } from './ComponentFacts';
import classes from './FactsDrawer.module.css';
import { LinkList } from './LinkList';
import { severalInWords } from './several-in-words';

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
  const measures = useMeasures();
  const fetcher = useFetcher<FileFacts>();
  const { load } = fetcher;
  const file = row && row.link?.state !== 'missing' && row.link?.state !== 'ambiguous' ? row.file : undefined;
  useEffect(() => {
    if (file !== undefined) void load(addressIn(projectId, 'file-facts', { path: file }));
  }, [file, projectId, load]);
  if (several)
    return (
      <aside className={classes.drawer} data-empty aria-label="What is selected">
        {severalInWords(several, measures)}
      </aside>
    );
  if (!row)
    return (
      <aside className={classes.drawer} data-empty>
        Select a component in the table or on the model to see its facts.
      </aside>
    );

  const facts = fetcher.data;
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
          <ComponentFacts
            row={row}
            above={above}
            onSelect={onSelect}
            facts={facts}
            pickedName={pickedName}
            projectId={projectId}
          />
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
                  {version.who}, <Time iso={version.time} />
                </span>
                <span className={classes.number}>
                  <Bytes of={version.bytes} />
                </span>
                <a href={downloadAddress(projectId, version.sha256, version.path)}>Download</a>
              </li>
            ))}
          </ul>
        </Tabs.Panel>
      </Tabs>
    </aside>
  );
}
