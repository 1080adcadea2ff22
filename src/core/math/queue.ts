/** A priority queue: what costs least comes first. */
/** Numbers, each with its cost; a binary heap in flat lists. */
export class Queue {
  private readonly items: number[] = [];
  private readonly costs: number[] = [];
  get size(): number {
    return this.items.length;
  }
  push(item: number, cost: number): void {
    let i = this.items.length;
    this.items.push(item);
    this.costs.push(cost);
    while (i > 0) {
      const up = (i - 1) >> 1;
      if (this.costs[up] <= cost) break;
      this.items[i] = this.items[up];
      this.costs[i] = this.costs[up];
      i = up;
    }
    this.items[i] = item;
    this.costs[i] = cost;
  }
  pop(): [number, number] {
    const out: [number, number] = [this.items[0], this.costs[0]];
    const item = this.items.pop()!;
    const cost = this.costs.pop()!;
    const n = this.items.length;
    if (n === 0) return out;
    let i = 0;
    for (;;) {
      let down = 2 * i + 1;
      if (down >= n) break;
      if (down + 1 < n && this.costs[down + 1] < this.costs[down]) down++;
      if (this.costs[down] >= cost) break;
      this.items[i] = this.items[down];
      this.costs[i] = this.costs[down];
      i = down;
    }
    this.items[i] = item;
    this.costs[i] = cost;
    return out;
  }
}
