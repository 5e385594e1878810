/** Adds a value to the list that a map keeps under a key; the list is made when it is the first. */
export function addTo<K, V>(lists: Map<K, V[]>, key: K, value: V): void {
  const list = lists.get(key);
  if (list) list.push(value);
  else lists.set(key, [value]);
}
