/** Photos side by side in lines as wide as there is room for, in their order. */
export function breakLines<Item>(
  items: readonly Item[],
  widthOf: (item: Item) => number,
  room: number,
): Item[][] {
  const lines: Item[][] = [];
  let left = 0;
  for (const item of items) {
    const width = widthOf(item);
    const line = lines.at(-1);
    if (line && width <= left) line.push(item);
    else {
      lines.push([item]);
      left = room;
    }
    left -= width;
  }
  return lines;
}
