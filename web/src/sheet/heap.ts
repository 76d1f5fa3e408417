/** A binary heap of numbers by priority. */
export class Heap {
  private readonly items: number[] = [];
  private readonly keys: number[] = [];

  push(item: number, key: number): void {
    let at = this.items.length;
    while (at > 0) {
      const parent = (at - 1) >> 1;
      const above = this.keys[parent] ?? 0;
      if (above <= key) break;
      this.items[at] = this.items[parent] ?? 0;
      this.keys[at] = above;
      at = parent;
    }
    this.items[at] = item;
    this.keys[at] = key;
  }

  pop(): number | undefined {
    const top = this.items[0];
    const [item, key] = [this.items.pop(), this.keys.pop()];
    if (item === undefined || key === undefined || this.items.length === 0) return top;
    let at = 0;
    for (;;) {
      let child = 2 * at + 1;
      if (child >= this.items.length) break;
      if (child + 1 < this.items.length && (this.keys[child + 1] ?? 0) < (this.keys[child] ?? 0)) child += 1;
      if ((this.keys[child] ?? 0) >= key) break;
      this.items[at] = this.items[child] ?? 0;
      this.keys[at] = this.keys[child] ?? 0;
      at = child;
    }
    this.items[at] = item;
    this.keys[at] = key;
    return top;
  }
}
