/** A path in the folder of a command, as projects write it. @example pathInFolder('.\\parts\\lid.stp') // 'parts/lid.stp' */
export function pathInFolder(written: string): string {
  return written.replaceAll('\\', '/').replace(/^\.\//, '');
}
