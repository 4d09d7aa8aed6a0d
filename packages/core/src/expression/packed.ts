// Lists of numbers in one flat array: read at nearly every event, where a list of lists would be chased through memory.

/** List n is `items[at[n]] … items[at[n + 1] - 1]`. */
export function packed(lists: readonly (readonly number[])[]): [items: Int32Array, at: Int32Array] {
  const at = new Int32Array(lists.length + 1);
  lists.forEach((list, index) => {
    at[index + 1] = (at[index] as number) + list.length;
  });
  const items = new Int32Array(at[lists.length] as number);
  lists.forEach((list, index) => {
    items.set(list, at[index]);
  });
  return [items, at];
}
