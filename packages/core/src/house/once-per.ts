// What is worked out of something that never changes, once for all that ask.

/** Makes something of a key when it is first asked for, and keeps it as long as the key lives. */
export function oncePer<Key extends object, Made>(make: (key: Key) => Made): (key: Key) => Made {
  const made = new WeakMap<Key, Made>();
  return (key) => {
    const known = made.get(key);
    if (known !== undefined) return known;
    const fresh = make(key);
    made.set(key, fresh);
    return fresh;
  };
}
