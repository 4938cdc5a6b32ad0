/**
 * Finds the files that refer to themselves, directly or through others: the strongly connected components of the
 * link graph (Tarjan's algorithm, without recursion). Linear in files and links.
 * @returns for each file in a loop, the files of that loop in walking order
 */
export function findLoops(targets: ReadonlyMap<string, readonly string[]>): Map<string, string[]> {
  const order = new Map<string, number>();
  const low = new Map<string, number>();
  const open: string[] = [];
  const isOpen = new Set<string>();
  const loops = new Map<string, string[]>();

  for (const start of targets.keys()) {
    if (order.has(start)) continue;
    const work: { node: string; next: number }[] = [{ node: start, next: 0 }];
    while (work.length > 0) {
      const frame = work.at(-1)!;
      const { node } = frame;
      if (frame.next === 0 && !order.has(node)) {
        order.set(node, order.size);
        low.set(node, order.get(node)!);
        open.push(node);
        isOpen.add(node);
      }
      const child = targets.get(node)![frame.next++];
      if (child !== undefined) {
        // What refers to nothing is in no loop.
        if (!targets.has(child)) continue;
        if (!order.has(child)) work.push({ node: child, next: 0 });
        else if (isOpen.has(child)) low.set(node, Math.min(low.get(node)!, order.get(child)!));
        continue;
      }
      work.pop();
      const parent = work.at(-1);
      if (parent) low.set(parent.node, Math.min(low.get(parent.node)!, low.get(node)!));
      if (low.get(node) !== order.get(node)) continue;
      const members = open.splice(open.lastIndexOf(node));
      for (const member of members) isOpen.delete(member);
      const loop = members.length > 1 || targets.get(node)!.includes(node);
      if (loop) for (const member of members) loops.set(member, members);
    }
  }
  return loops;
}
