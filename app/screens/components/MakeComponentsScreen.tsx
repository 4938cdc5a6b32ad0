import { useMemo, useState } from 'react';
import { useOutletContext } from 'react-router';
import { someOf } from '#core/command/words';
import type { MadeComponent } from '#core/jobs/components/operation';
import type { LooseBody, MakeComponentsView } from '#server/views/operations/make-components-view';
import { useView } from '../../ui/address/useView';
import { CellField } from '../../ui/fields/CellField';
import { plural } from '../../ui/format';
import type { LedgerColumn } from '../../ui/ledger/Ledger';
import { useOperation } from '../../ui/operation/useOperation';
import type { ProjectContext } from '../../ui/project/project-context';
import { AssemblingPage, NothingToDo } from '../assembling/AssemblingPage';

/** Bodies that lie loose in a part or an assembly become components of it: which, and called what. */
export function MakeComponentsScreen({ bodies: offers, ...view }: MakeComponentsView) {
  const { mayEdit } = useOutletContext<ProjectContext>();
  const [address] = useView();
  // What has become a component is no loose body any more: the page stays with what was done.
  const [file] = useState(view.file);
  const [bodies] = useState(offers);
  const [chosen, setChosen] = useState<readonly string[]>(() => asked(address.get('components'), bodies));
  const [names, setNames] = useState<{ readonly [body: string]: string }>({});
  const making = useOperation<{ components: MadeComponent[] }>(
    'make-components',
    file === null || chosen.length === 0 ? null : { file, bodies: chosen.map(Number), names },
  );
  const { isDone } = making;
  const columns = useMemo(
    () =>
      columnsOf({
        names,
        disabled: !mayEdit || isDone,
        onName: (body, name) => setNames((before) => ({ ...before, [body]: name })),
      }),
    [names, mayEdit, isDone],
  );
  const parentsOf = useMemo(
    () => new Map(bodies.map(({ body, definition }) => [String(body), String(definition)])),
    [bodies],
  );
  const lit = useMemo(() => chosen.flatMap((body) => parentsOf.get(body) ?? []), [chosen, parentsOf]);
  if (file === null)
    return (
      <NothingToDo title="No loose bodies">
        Each part of this project has one body, and no assembly has any of its own.
      </NothingToDo>
    );
  return (
    <AssemblingPage
      operation={making}
      title="Make components of bodies"
      fileLabel="Of"
      // On the model the part is lit that holds them.
      view={{ ...view, file }}
      lit={lit}
      isFileFixed={isDone}
      table={{
        label: 'Loose bodies',
        columns,
        rows: bodies,
        keyOf: ({ body }) => String(body),
        empty: `No bodies lie loose in ${file}.`,
      }}
      chosen={chosen}
      onChoose={(keys) =>
        setChosen(
          keys.flatMap((key) =>
            parentsOf.has(key)
              ? [key]
              : bodies.flatMap(({ body, definition }) => (String(definition) === key ? [String(body)] : [])),
          ),
        )
      }
      empty="Choose the bodies that become components: in the table, or on the model all of a part. Nothing moves, and the file stays one."
      label={() => `Make ${plural(chosen.length, 'component')}`}
      doing="Making components"
      lines={({ preview: { components } }) => [
        `${plural(components.length, 'body becomes a component', 'bodies become components')} of ${someOf([...new Set(components.map(({ parent }) => parent))], 5)}; nothing moves.`,
        someOf(
          components.map(({ id, name }) => (id === name ? name : `${name} (${id})`)),
          8,
        ),
      ]}
    />
  );
}

/** Bodies of the products that somebody comes with; all of them where nobody says which. */
function asked(text: string | null, bodies: readonly LooseBody[]): string[] {
  const wanted = text === null ? null : new Set(text.split(' '));
  return bodies.flatMap(({ body, definition }) =>
    wanted === null || wanted.has(String(definition)) ? [String(body)] : [],
  );
}

interface ColumnContext {
  names: { readonly [body: string]: string };
  disabled: boolean;
  onName: (body: number, name: string) => void;
}

function columnsOf({ names, disabled, onName }: ColumnContext): LedgerColumn<LooseBody>[] {
  return [
    {
      key: 'name',
      title: 'Called',
      width: 'minmax(180px, 1.5fr)',
      cell: ({ body, name }) => (
        <CellField
          aria-label={`Name of the part of ${name}`}
          value={names[body] ?? name}
          maxLength={200}
          disabled={disabled}
          onChange={(text) => onName(body, text)}
        />
      ),
      sort: ({ name }) => name,
    },
    {
      key: 'parent',
      title: 'Component of',
      width: 'minmax(140px, 1fr)',
      cell: ({ parent }) => parent,
      sort: ({ parent }) => parent,
    },
    {
      key: 'body',
      title: 'Body',
      width: '90px',
      cell: ({ body }) => <span className="mono">#{body}</span>,
      sort: ({ body }) => body,
    },
  ];
}
