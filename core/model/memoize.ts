const MOST = 5000;

/** Memoises a pure function, up to a number of results. */
export function memoize<Key, Value>(make: (key: Key) => Value): (key: Key) => Value {
  const known = new Map<Key, Value>();
  return (key) => {
    const before = known.get(key);
    if (before !== undefined) return before;
    if (known.size >= MOST) known.clear();
    const made = make(key);
    known.set(key, made);
    return made;
  };
}
