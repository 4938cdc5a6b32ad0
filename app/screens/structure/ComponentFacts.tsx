import { UnstyledButton } from '@mantine/core';
import { Link } from 'react-router';
import { sidesOf } from '#core/product/box';
import type { FileFacts } from '#server/views/files/file-facts';
import type { StructureViewRow } from '#server/views/structure/structure-view';
import { addressIn } from '../../ui/address/addresses';
import { count, plural, USES } from '../../ui/format';
import { LinkMark } from '../../ui/LinkMark';
import { useMeasures } from '../../ui/measures/useMeasures';
import { CameOutOf } from '../../ui/project/CameOutOf';
import { FileLink } from '../../ui/project/FileLink';
import { MadeLighter } from '../../ui/project/MadeLighter';
import classes from './FactsDrawer.module.css';

interface ComponentFactsProps {
  row: StructureViewRow;
  /** The rows above it, the top one first. */
  above: readonly StructureViewRow[];
  /** Selects another row by its key. */
  onSelect: (key: string) => void;
  /** What is known of its file, once that has arrived. */
  facts: FileFacts | undefined;
  pickedName: string | null;
  projectId: string;
}

/** What is wrong with a component, where it sits, and what it is. */
export function ComponentFacts({ row, above, onSelect, facts, pickedName, projectId }: ComponentFactsProps) {
  const { box } = row;
  const measures = useMeasures();
  return (
    <>
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
        {!!row.totals.volume && <Fact name="Volume" value={measures.volume(row.totals.volume)} mono />}
        {!!row.totals.mass && <Fact name="Mass" value={measures.mass(row.totals.mass)} mono />}
        {box && <Fact name="Box" value={measures.box(sidesOf(box))} mono />}
        {facts && facts.drawings.length > 0 && (
          <Fact
            name={facts.drawings.length === 1 ? 'Drawing' : 'Drawings'}
            value={facts.drawings.map((drawing) => (
              <FileLink key={drawing} projectId={projectId} path={drawing} />
            ))}
          />
        )}
        {facts && (facts.sources.length > 0 || facts.cameOut.length > 0) && (
          <Fact
            name={facts.sources.length > 0 ? 'Came out of' : 'Source of'}
            value={<CameOutOf {...facts} projectId={projectId} />}
          />
        )}
        {facts?.made && <Fact name="Made lighter" value={<MadeLighter report={facts.made} />} />}
      </dl>
    </>
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
