/** A binary heap, smallest first; ties leave in the order they came. */
export class Heap<T> {
  private readonly items: { readonly item: T; readonly cost: number; readonly turn: number }[] = [];
  private turn = 0;

  push(item: T, cost: number) {
    const entry = { item, cost, turn: this.turn++ };
    const { items } = this;
    let at = items.push(entry) - 1;
    while (at > 0) {
      const up = (at - 1) >> 1;
      if (!less(entry, items[up])) break;
      items[at] = items[up];
      at = up;
    }
    items[at] = entry;
  }

  pop(): T | null {
    const { items } = this;
    const first = items[0];
    const last = items.pop();
    if (!first || !last) return null;
    if (items.length > 0) {
      let at = 0;
      while (true) {
        let down = 2 * at + 1;
        if (down >= items.length) break;
        if (down + 1 < items.length && less(items[down + 1], items[down])) down++;
        if (!less(items[down], last)) break;
        items[at] = items[down];
        at = down;
      }
      items[at] = last;
    }
    return first.item;
  }
}

const less = (a: { cost: number; turn: number }, b: { cost: number; turn: number }) =>
  a.cost < b.cost || (a.cost === b.cost && a.turn < b.turn);
