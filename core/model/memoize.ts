const MOST = 5000;

/** A pure function that remembers what it answered, up to so many answers: the same things are asked over and over. */
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
