import type { MeshKind } from '#core/files/mesh-kinds';
import type { MeshFile } from '#core/geometry/scene';
import { MeshStage } from '../../stage/MeshStage';
import classes from './Look.module.css';

/** Formats that say no unit of length. */
const WITHOUT_UNIT: ReadonlySet<MeshKind> = new Set(['stl', 'ply', 'obj']);

/** A file of triangles, on the stage. */
export function MeshLook({ url, name, mesh }: { url: string; name: string; mesh: MeshFile }) {
  return (
    <>
      {WITHOUT_UNIT.has(mesh.kind) && (
        <p className={classes.cut}>The file says no unit of length: millimetres are taken.</p>
      )}
      <div className={classes.model}>
        <MeshStage url={url} name={name} mesh={mesh} />
      </div>
    </>
  );
}
