/**
 * Something that there is once in a process. The web process and the pages it serves are built apart, so each has its own modules: what they
 * share hangs on the process.
 */
export function ofTheProcess<Value extends object>(name: string, make: () => Value): Value {
  const all = globalThis as unknown as { [key: symbol]: Value | undefined };
  const key = Symbol.for(`stonetray ${name}`);
  const there = all[key] ?? make();
  all[key] = there;
  return there;
}
