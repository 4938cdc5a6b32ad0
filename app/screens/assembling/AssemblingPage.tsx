import { Button } from '@mantine/core';
import { useMemo } from 'react';
import { Link, useOutletContext } from 'react-router';
import { baseName } from '#core/files/links/paths';
import type { AssemblyView } from '#server/views/operations/assembly-view';
import { Stage } from '../../stage/Stage';
import type { StageTool } from '../../stage/stage-tool';
import { addressIn, operationAddress } from '../../ui/address/addresses';
import { useView } from '../../ui/address/useView';
import { plural } from '../../ui/format';
import { Ledger, type LedgerProps } from '../../ui/ledger/Ledger';
import { OperationPage, type OperationPageProps } from '../../ui/operation/OperationPage';
import layout from '../../ui/operation/OperationPage.module.css';
import { Select } from '../../ui/options';
import type { ProjectContext } from '../../ui/project/project-context';
import classes from './Assembling.module.css';
import { componentOf, rowsOf } from './component-rows';

interface AssemblingPageProps<Row, Preview>
  extends Omit<OperationPageProps<Preview>, 'choices' | 'stage' | 'done'> {
  title: string;
  /** What is said of the assembly: "Of the assembly". */
  fileLabel: string;
  view: AssemblyView & { file: string };
  /** Whether another assembly may be chosen. */
  isFileFixed?: boolean;
  /** What else is chosen, beside the assembly. */
  fields?: React.ReactNode;
  /** What works on the rows, between those and the table. */
  tools?: React.ReactNode;
  /** What a click on the model chooses: the component directly in the assembly, or the part that was hit. */
  picks?: 'topmost' | 'nearest';
  /** How rows of the stage move from where they are, as motions of the whole model. */
  poses?: ReadonlyMap<number, readonly number[]>;
  /** What picks or draws on the stage, and what stands above it. */
  tool?: StageTool | null;
  above?: React.ReactNode;
  table: Pick<
    LedgerProps<Row>,
    'label' | 'columns' | 'rows' | 'keyOf' | 'tree' | 'drag' | 'dimmed' | 'empty'
  >;
  /** Keys of the components that are chosen, as rows and on the stage. */
  chosen: readonly string[];
  /** Keys of what is lit on the stage, where that is not what is chosen. */
  lit?: readonly string[];
  onChoose: (keys: readonly string[]) => void;
}

/** The page of an operation on components of an assembly: they are chosen in the table, or on the model. */
export function AssemblingPage<Row, Preview>({
  title,
  fileLabel,
  view: { file, files, scene, rows, shows },
  isFileFixed = false,
  fields,
  tools,
  picks = 'topmost',
  poses,
  tool,
  above,
  table,
  chosen,
  lit = chosen,
  onChoose,
  ...page
}: AssemblingPageProps<Row, Preview>) {
  const { projectId } = useOutletContext<ProjectContext>();
  const [, change] = useView();
  const selected = useMemo(() => rowsOf(rows, new Set(lit)), [rows, lit]);
  const toggle = (key: string) =>
    onChoose(chosen.includes(key) ? chosen.filter((other) => other !== key) : [...chosen, key]);
  const { keyOf } = table;
  return (
    <OperationPage
      choices={
        <>
          <h1 className={layout.heading}>{title}</h1>
          <div className={classes.fields}>
            <Select
              label={fileLabel}
              className={classes.file}
              data={[file, ...files.filter((path) => path !== file)]}
              value={file}
              searchable
              limit={200}
              allowDeselect={false}
              disabled={isFileFixed}
              onChange={(path) => change({ file: path, components: null })}
            />
            {fields}
          </div>
          {shows && (
            <p className={classes.shows}>
              {baseName(file)} is placed {plural(shows.places, 'time')}: what changes shows at each place.{' '}
              <Link
                to={operationAddress(projectId, 'arrange', {
                  file: shows.in.file,
                  do: 'own-copy',
                  components: `${shows.in.parent}:${encodeURIComponent(file)}`,
                })}
              >
                Copy it for some of them first
              </Link>
            </p>
          )}
          {tools}
          <div className={layout.table}>
            <Ledger
              {...table}
              selected={chosen.at(-1) ?? null}
              onSelect={(row) => onChoose([keyOf(row)])}
              several={{ keys: chosen, onSelect: onChoose }}
              keys={{ ' ': (row) => toggle(keyOf(row)) }}
            />
          </div>
        </>
      }
      stage={
        <Stage
          scene={scene}
          sceneKey={file}
          selected={selected}
          poses={poses}
          tool={tool}
          onPick={(pick, isAdded) => {
            const key = pick && componentOf(rows, pick.row, picks);
            if (key && !page.operation.isDone) isAdded ? toggle(key) : onChoose([key]);
          }}
        >
          {above}
        </Stage>
      }
      done={() => <Link to={addressIn(projectId, 'structure', { root: file })}>Open the structure</Link>}
      {...page}
    />
  );
}

/** The page where there is nothing of the kind. */
export function NothingToDo({ title, children }: { title: string; children: string }) {
  const { projectId } = useOutletContext<ProjectContext>();
  return (
    <div className={layout.blank}>
      <h1>{title}</h1>
      <p className="muted">{children}</p>
      <Button component={Link} to={addressIn(projectId, 'structure')}>
        Go to Structure
      </Button>
    </div>
  );
}
