import { Button } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
import { Link, useOutletContext } from 'react-router';
import { TransformComponent, TransformWrapper } from 'react-zoom-pan-pinch';
import type { LinkMap } from '#core/project/scan/link-map';
import type { LookedAt } from '#core/report';
import { addressIn } from '../../ui/address/addresses';
import { readPaths, writePaths } from '../../ui/address/paths-in-address';
import { useView } from '../../ui/address/useView';
import bar from '../../ui/Bar.module.css';
import { PageTitle } from '../../ui/frame/PageTitle';
import { LinkMark } from '../../ui/LinkMark';
import layout from '../../ui/operation/OperationPage.module.css';
import { addressOf } from '../../ui/operation/operations';
import { SegmentedControl, Select } from '../../ui/options';
import type { ProjectContext } from '../../ui/project/project-context';
import { saveFile } from '../../ui/save-file';
import { useAnswer } from '../../ui/task/useAnswer';
import { layOut, type PlacedMap, type PlacedNode } from './layout';
import classes from './Map.module.css';
import { DASHES, MapDrawing } from './MapDrawing';
import { pictureOf } from './picture';

const KINDS = [
  ['component', 'places'],
  ['source', 'came out of'],
  ['drawing', 'drawing of'],
  ['resource', 'needs'],
  ['attachment', 'attached to'],
] as const;

/** The links of a project as a picture: everything, folded by folders, or what is around one file. */
export function MapScreen({ files }: { files: string[] }) {
  const { projectId, operations } = useOutletContext<ProjectContext>();
  const [view, change] = useView();
  const focus = view.get('file');
  const steps = Number(view.get('steps')) || 2;
  const opened = [...readPaths(view.get('opened'))];
  const closed = [...readPaths(view.get('closed'))];
  const selected = view.get('sel');
  const { found, refusal } = useAnswer<LookedAt<LinkMap>>('look', {
    report: 'map',
    choices: { file: focus, steps, opened, closed },
  });
  const map = usePlaced(found?.data ?? null);
  const drawing = useRef<HTMLDivElement>(null);
  const node = map?.nodes.find(({ key }) => key === selected) ?? null;

  const fold = (path: string, isOpen: boolean) =>
    change({
      opened: paths(isOpen ? [...opened, path] : opened.filter((one) => one !== path)),
      closed: paths(isOpen ? closed.filter((one) => one !== path) : [...closed, path]),
      sel: null,
    });
  const open = ({ what, path }: PlacedNode) => {
    if (what === 'folder') fold(path, true);
    else if (what === 'file') change({ file: path, sel: path });
  };
  const folder = node?.what === 'file' ? node.path.slice(0, Math.max(0, node.path.lastIndexOf('/'))) : '';
  const reports = operations.filter(({ kind, accepts }) => kind === 'report' && accepts.what === 'files');
  return (
    <div className={layout.page}>
      <PageTitle>Map</PageTitle>
      <div className={bar.bar}>
        <h1 className={bar.title}>Map</h1>
        <Select
          aria-label="Around a file"
          className={classes.file}
          size="xs"
          placeholder="Everything; or around a file…"
          data={files}
          value={focus}
          clearable
          searchable
          limit={100}
          nothingFoundMessage="No file of that name"
          onChange={(path) => change({ file: path, sel: path })}
        />
        {focus !== null && (
          <SegmentedControl
            size="xs"
            aria-label="Links away from it"
            data={['1', '2', '3', '4'].map((value) => ({
              value,
              label: `${value} ${value === '1' ? 'link' : 'links'}`,
            }))}
            value={String(steps)}
            onChange={(value) => change({ steps: value === '2' ? null : value })}
          />
        )}
        <p className={bar.summary} role="status">
          {refusal ?? found?.summary ?? 'Looking…'}
        </p>
        {map && (
          <Button
            variant="default"
            size="xs"
            onClick={() => {
              const svg = drawing.current?.querySelector('svg');
              if (svg) saveFile('map.svg', pictureOf(svg));
            }}
          >
            As SVG
          </Button>
        )}
      </div>
      <div className={classes.room} ref={drawing}>
        {map && map.nodes.length > 0 && (
          <TransformWrapper
            key={`${map.width} ${map.height} ${focus}`}
            initialScale={scaleFor(map, drawing.current)}
            minScale={0.1}
            maxScale={3}
            limitToBounds={false}
            centerOnInit
            doubleClick={{ disabled: true }}
          >
            <TransformComponent wrapperClass={classes.wrapper}>
              <MapDrawing
                map={map}
                focus={focus}
                selected={node?.key ?? null}
                onSelect={(key) => change({ sel: key })}
                onOpen={open}
              />
            </TransformComponent>
          </TransformWrapper>
        )}
        {map && map.nodes.length === 0 && <p className={classes.nothing}>There are no files yet.</p>}
        <div className={classes.legend} aria-hidden="true">
          {KINDS.map(([kind, words]) => (
            <span key={kind}>
              <svg width="34" height="8" aria-hidden="true">
                <path className={classes.sample} d="M1 4H33" strokeDasharray={DASHES[kind]} />
              </svg>
              {words}
            </span>
          ))}
          {(['missing', 'ambiguous', 'behind', 'loop'] as const).map((state) => (
            <LinkMark key={state} state={state} />
          ))}
        </div>
      </div>
      <div className={classes.foot}>
        {node ? (
          <>
            <span className="mono">{node.path}</span>
            {node.what === 'folder' && (
              <Button size="xs" onClick={() => fold(node.path, true)}>
                Unfold it
              </Button>
            )}
            {node.what === 'file' && node.path !== focus && (
              <Button size="xs" onClick={() => change({ file: node.path })}>
                Around it
              </Button>
            )}
            {folder !== '' && (
              <Button size="xs" variant="default" onClick={() => fold(folder, false)}>
                Fold {folder}
              </Button>
            )}
            {node.what === 'missing' && (
              <Button size="xs" component={Link} to={addressIn(projectId, 'repair')}>
                Repair desk
              </Button>
            )}
            {node.what === 'file' && (
              <>
                {reports.map((entry) => (
                  <Button
                    key={entry.name}
                    size="xs"
                    variant="default"
                    component={Link}
                    to={addressOf(projectId, entry, [node.path])}
                  >
                    {entry.title}
                  </Button>
                ))}
                <Button
                  size="xs"
                  variant="default"
                  component={Link}
                  to={addressIn(projectId, 'files', { sel: node.path })}
                >
                  Show it in Files
                </Button>
              </>
            )}
          </>
        ) : (
          <span className="muted">
            Choose a file or a folder; arrows go from one to the next, Enter looks around a file and unfolds a
            folder.
          </span>
        )}
      </div>
    </div>
  );
}

function paths(list: readonly string[]): string | null {
  return list.length > 0 ? writePaths(new Set(list)) : null;
}

/** All of it where that can be read, else as large as can be read. */
function scaleFor({ width, height }: PlacedMap, room: HTMLElement | null): number {
  if (!room || width === 0) return 1;
  const fits = Math.min((room.clientWidth - 60) / width, (room.clientHeight - 70) / height);
  return Math.max(0.35, Math.min(1.1, fits));
}

/** The map with its places, as soon as they are there; the older one until then. */
function usePlaced(map: LinkMap | null): PlacedMap | null {
  const [placed, setPlaced] = useState<PlacedMap | null>(null);
  useEffect(() => {
    if (!map) return;
    let isWanted = true;
    layOut(map).then(
      (laid) => isWanted && setPlaced(laid),
      (error: unknown) => console.error(error),
    );
    return () => {
      isWanted = false;
    };
  }, [map]);
  return placed;
}
