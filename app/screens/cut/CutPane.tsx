import { Button, Radio, Stack } from '@mantine/core';
import { useOutletContext } from 'react-router';
import type { CutChoices } from '#core/jobs/cut/choices';
import type { DoneWithFile } from '#server/projects/projects';
import { useView } from '../../ui/address/useView';
import { Select } from '../../ui/options';
import { DoneBefore } from '../../ui/project/DoneWith';
import type { ProjectContext } from '../../ui/project/project-context';
import classes from './Cut.module.css';
import { CutterForm } from './CutterForm';
import { PiecesList } from './PiecesList';
import type { useCut } from './useCut';

interface CutPaneProps {
  cut: ReturnType<typeof useCut>;
  bodyName: string;
  /** Cuts of the part that were kept before. */
  done: readonly DoneWithFile[];
}

/** Which body is cut, what is drawn, the pieces that came of it, and what becomes of them. */
export function CutPane({ cut, bodyName, done }: CutPaneProps) {
  const { mayEdit } = useOutletContext<ProjectContext>();
  const [, change] = useView();
  const { body, steps, draft, setDraft, choices, setChoices, piece, setPiece, current } = cut;
  const { isCutting, trouble, chosen, nextBox, cutter } = cut;
  const { path, bodies, users } = cut.part;
  const { isDone } = cut.cutting;
  return (
    <>
      <div className={classes.head}>
        <h1>Cut</h1>
        <Select
          aria-label="Body to cut"
          data={bodies.flatMap(({ id, name, kind }) =>
            kind === 'solid' ? [{ value: String(id), label: name || `Body #${id}` }] : [],
          )}
          value={body ? String(body.id) : null}
          onChange={(value) => change({ body: value })}
          allowDeselect={false}
          searchable
          disabled={current !== null}
          title={current ? 'Take the cuts back to choose another body.' : undefined}
        />
        <span className="muted">of</span>
        <Select
          aria-label="Part"
          data={[...new Set([path, ...cut.part.parts])].map((value) => ({
            value,
            label: value.split('/').at(-1)!,
          }))}
          value={path}
          onChange={(value) => change({ file: value, body: null })}
          allowDeselect={false}
          searchable
          disabled={current !== null}
        />
      </div>
      <DoneBefore done={done} word="Cut" />
      <div className={classes.scroll}>
        {!isDone && <CutterForm draft={draft} box={nextBox} onChange={setDraft} />}
        {!isDone && (
          <div className={classes.go}>
            <Button
              disabled={!mayEdit || !('cutter' in cutter) || body === null || isCutting}
              loading={isCutting}
              title={mayEdit ? undefined : 'This needs the role editor.'}
              onClick={cut.tryCut}
            >
              {chosen ? `Cut piece ${chosen.path} again` : 'Try the cut'}
            </Button>
            <span className="muted" role="status">
              {'missing' in cutter ? cutter.missing : 'Nothing is changed yet.'}
            </span>
          </div>
        )}
        {trouble && (
          <p className={classes.trouble} role="alert">
            {trouble}
          </p>
        )}
        {current && (
          <PiecesList
            steps={steps}
            pieces={current.pieces}
            names={choices.names}
            nameOf={(which) => `${bodyName} ${which}`}
            selected={piece}
            onSelect={setPiece}
            onName={cut.setName}
            onTakeBack={cut.takeBack}
            disabled={isDone || isCutting}
          />
        )}
        {current && !isDone && (
          <Radio.Group
            className={classes.as}
            label="The pieces become"
            value={choices.as}
            onChange={(as) => setChoices({ ...choices, as: as as CutChoices['as'] })}
          >
            <Stack gap={6} mt={6}>
              <Radio value="bodies" label="Bodies of this part" />
              <Radio value="nested" label="Components, nested in an assembly in the part’s place" />
              <Radio
                value="top"
                disabled={users === 0}
                label={
                  users === 0
                    ? 'Components beside the part (no assembly uses it)'
                    : users === 1
                      ? 'Components beside the part, in the assembly that uses it'
                      : `Components beside the part, in the ${users} assemblies that use it`
                }
              />
            </Stack>
          </Radio.Group>
        )}
      </div>
    </>
  );
}
