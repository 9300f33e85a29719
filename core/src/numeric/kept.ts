/**
 * Keeps the answers of a pure function by key, for what many rules ask again with the same figures. Forgets all when
 * full: simpler than forgetting the oldest, and a session asks for few systems at a time.
 */
export function kept<K, V>(most: number): (key: K, make: () => V) => V {
  const answers = new Map<K, V>();
  return (key, make) => {
    const known = answers.get(key);
    if (known !== undefined) return known;
    if (answers.size >= most) answers.clear();
    const made = make();
    answers.set(key, made);
    return made;
  };
}
