/**
 * Something that is made of a value once, at the first asking, and kept as long as the value is.
 * @example const productsOf = onceFor((scan: ContentScan) => byDefinition(scan.products))
 */
export function onceFor<Value extends object, Made extends object>(
  make: (value: Value) => Made,
): (value: Value) => Made {
  const known = new WeakMap<Value, Made>();
  return (value) => {
    const before = known.get(value);
    if (before) return before;
    const made = make(value);
    known.set(value, made);
    return made;
  };
}
