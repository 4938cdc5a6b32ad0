const UNITS: { readonly [unit: string]: number } = { b: 1, kb: 1e3, mb: 1e6, gb: 1e9 };

/** A limit of size as somebody types it among other words; null for any other word. @example typedSize('>1.5mb') // { than: '>', bytes: 1500000 } */
export function typedSize(word: string): { than: '<' | '>'; bytes: number } | null {
  const [, than, number, unit] = /^([<>])([\d.]+)([kmg]?b)$/i.exec(word) ?? [];
  if (!than) return null;
  return { than: than as '<' | '>', bytes: Number(number) * UNITS[unit!.toLowerCase()]! };
}
