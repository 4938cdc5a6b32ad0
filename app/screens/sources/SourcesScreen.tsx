import { Checkbox } from '@mantine/core';
import { useMemo, useState } from 'react';
import { useOutletContext } from 'react-router';
import type { FollowPreview } from '#core/jobs/follow/view';
import type { SourceFile } from '#server/projects/catalogue/sources';
import { Stage } from '../../stage/Stage';
import { readPaths, writePaths } from '../../ui/address/paths-in-address';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { PageTitle } from '../../ui/frame/PageTitle';
import { Ledger } from '../../ui/ledger/Ledger';
import { useMeasures } from '../../ui/measures/useMeasures';
import { JustDone, OperationPage } from '../../ui/operation/OperationPage';
import layout from '../../ui/operation/OperationPage.module.css';
import { PathItems } from '../../ui/operation/PathItems';
import { useOperation } from '../../ui/operation/useOperation';
import { Select } from '../../ui/options';
import type { ProjectContext } from '../../ui/project/project-context';
import { columnsFor, keyOf } from './columns';
import { DetachMenu, DetachPage } from './Detach';
import { followLines } from './follow-lines';
import { NothingFollows } from './NothingFollows';
import { SelectionTools } from './SelectionTools';
import classes from './Sources.module.css';

interface SourcesScreenProps {
  sources: SourceFile[];
  source: string | null;
  /** The shapes that have to be compared are still being made. */
  isPreparing: boolean;
}

const NOTHING: FollowPreview = { lines: [], scene: { bodies: [], instances: [] } };

/** Files that others came out of: what a newer version changed, body by body, and bringing all of them up to it. */
export function SourcesScreen({ sources, source, isPreparing }: SourcesScreenProps) {
  const { projectId, mayEdit } = useOutletContext<ProjectContext>();
  const measures = useMeasures();
  const columns = useMemo(() => columnsFor(measures), [measures]);
  const [view, change] = useView();
  const take = view.get('take');
  const taken = useMemo(() => readPaths(take), [take]);
  const keepsGone = view.get('gone') === 'keep';
  const following = useOperation<FollowPreview>(
    'follow',
    source === null || isPreparing ? null : { source, removeGone: !keepsGone, take: [...taken] },
  );
  // Detaching is looked at in the same place before it is done: which files is said in the address.
  const leaving = view.get('detach');
  const detaching = useOperation<null>(
    'detach',
    source === null || leaving === null ? null : { source, files: leaving === 'all' ? null : [leaving] },
  );
  const { lines, scene } = following.planned?.preview ?? NOTHING;
  // Whoever comes from a file sees its body lit.
  const cameFrom = view.get('file');
  const first = cameFrom === null ? undefined : lines.find(({ component }) => component === cameFrom);
  const selected = view.get('sel') ?? (first ? keyOf(first) : null);
  const [fitRequest, setFitRequest] = useState(0);
  const lit = useMemo(() => {
    const file = lines.find((line) => keyOf(line) === selected)?.component ?? null;
    // A component that is placed several times is lit in all its places.
    return new Set(
      lines.flatMap((line, n) =>
        keyOf(line) === selected || (file !== null && line.component === file) ? [n] : [],
      ),
    );
  }, [lines, selected]);

  if (source === null) {
    return (
      <NothingFollows projectId={projectId}>
        <JustDone operation={following} />
        <JustDone operation={detaching} />
      </NothingFollows>
    );
  }
  const selectedLine = lines.find((line) => keyOf(line) === selected);
  const selectedFile = selectedLine?.component ?? null;
  const shown = lines.map((line) => ({ ...line, isTaken: taken.has(line.component ?? '') }));
  const setTaken = (path: string, isTaken: boolean) => {
    const after = isTaken ? [...taken, path] : [...taken].filter((other) => other !== path);
    change({ take: after.length > 0 ? writePaths(after) : null });
  };
  const preparing = isPreparing ? 'The shapes of this source are still being prepared.' : null;
  const choices = (
    <>
      <PageTitle>Behind</PageTitle>
      <div className={classes.bar}>
        <Select
          aria-label="Source"
          className={classes.source}
          data={sources.map(({ path, files, behind }) => ({
            value: path,
            label: `${path} (${plural(files, 'file')}${behind > 0 ? `, ${behind} behind` : ''})`,
          }))}
          value={source}
          onChange={(value) => change({ source: value, sel: null, take: null, detach: null })}
          allowDeselect={false}
        />
        {lines.some(({ change: kind }) => kind === 'gone') && (
          <Checkbox
            label="Keep what is gone"
            checked={keepsGone}
            onChange={(event) => change({ gone: event.currentTarget.checked ? 'keep' : null })}
          />
        )}
      </div>
      <div className={layout.table}>
        <Ledger
          label="Bodies of the source"
          columns={columns}
          rows={shown}
          keyOf={keyOf}
          selected={selected}
          onSelect={(line) => change({ sel: keyOf(line) })}
          menu={([line]) => <PathItems path={line?.component} />}
          empty={preparing ?? following.refusal ?? 'Comparing the files with their source…'}
        />
      </div>
    </>
  );
  const stage = scene.bodies.length > 0 && (
    <Stage
      scene={scene}
      sceneKey={source}
      selected={lit}
      fitRequest={fitRequest}
      onPick={(pick) => change({ sel: pick ? keyOf(lines[pick.row]!) : null })}
    >
      <SelectionTools
        line={selectedLine}
        isTaken={selectedFile !== null && taken.has(selectedFile)}
        onTake={setTaken}
        onGoTo={lit.size === 0 ? null : () => setFitRequest(fitRequest + 1)}
      />
    </Stage>
  );
  if (leaving !== null)
    return (
      <DetachPage
        operation={detaching}
        source={source}
        choices={choices}
        stage={stage || <span />}
        onBack={() => change({ detach: null })}
      />
    );
  return (
    <OperationPage
      operation={following}
      choices={choices}
      stage={stage || <span />}
      lines={(plan) => followLines(plan, keepsGone)}
      empty={preparing ?? ''}
      label={() => 'Bring up to date'}
      doing="Bringing up to date"
    >
      <JustDone operation={detaching} />
      {mayEdit && (
        <DetachMenu
          source={source}
          file={selectedFile}
          count={sources.find(({ path }) => path === source)?.files ?? 0}
          onChoose={(detach) => change({ detach })}
        />
      )}
    </OperationPage>
  );
}
