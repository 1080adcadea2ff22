/** A priority queue in which costs change: a binary heap that knows where each of its numbers stands. */
/** Numbers below `n` by cost, least first; each is in it once, and its cost can be changed. */
export class Heap {
  private readonly item: Int32Array;
  private readonly cost: Float64Array;
  private readonly place: Int32Array;
  size = 0;

  constructor(n: number) {
    this.item = new Int32Array(n);
    this.cost = new Float64Array(n);
    this.place = new Int32Array(n).fill(-1);
  }

  put(v: number, cost: number): void {
    let i = this.place[v];
    if (i < 0) i = this.size++;
    this.item[i] = v;
    this.place[v] = i;
    this.cost[v] = cost;
    this.up(i);
    this.down(this.place[v]);
  }

  drop(v: number): void {
    const i = this.place[v];
    if (i < 0) return;
    this.place[v] = -1;
    const last = this.item[--this.size];
    if (last === v) return;
    this.item[i] = last;
    this.place[last] = i;
    this.up(i);
    this.down(this.place[last]);
  }

  pop(): number {
    const v = this.item[0];
    this.drop(v);
    return v;
  }

  private up(at: number): void {
    const { item, cost, place } = this;
    const v = item[at];
    let i = at;
    while (i > 0) {
      const j = (i - 1) >> 1;
      if (cost[item[j]] <= cost[v]) break;
      item[i] = item[j];
      place[item[i]] = i;
      i = j;
    }
    item[i] = v;
    place[v] = i;
  }

  private down(at: number): void {
    const { item, cost, place, size } = this;
    const v = item[at];
    let i = at;
    for (;;) {
      let j = 2 * i + 1;
      if (j >= size) break;
      if (j + 1 < size && cost[item[j + 1]] < cost[item[j]]) j++;
      if (cost[item[j]] >= cost[v]) break;
      item[i] = item[j];
      place[item[i]] = i;
      i = j;
    }
    item[i] = v;
    place[v] = i;
  }
}
