import { useEffect, useRef, useState } from 'react';
import type { DrawnJoint, JointsTool, MovedBy } from './joints-tool';

/** A tool for the stage that draws joints and moves groups. It is fetched with three.js, in the browser only. */
export function useJoints(
  joints: readonly DrawnJoint[],
  moves: boolean,
  jointOf: (row: number) => MovedBy | null,
  onDrive: (joint: number, value: readonly number[]) => void,
): JointsTool | null {
  const [tool, setTool] = useState<JointsTool | null>(null);
  const told = useRef({ jointOf, onDrive });
  told.current = { jointOf, onDrive };
  useEffect(() => {
    let isGone = false;
    void import('./joints-tool').then(
      ({ JointsTool: Tool }) =>
        !isGone &&
        setTool(
          new Tool(
            (row) => told.current.jointOf(row),
            (joint, value) => told.current.onDrive(joint, value),
          ),
        ),
    );
    return () => {
      isGone = true;
    };
  }, []);
  useEffect(() => tool?.set(joints), [tool, joints]);
  useEffect(() => tool?.setMoving(moves), [tool, moves]);
  return tool;
}
