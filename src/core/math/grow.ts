/**
 * Typed arrays that grow by doubling, where the size is known only at the end: files being read, meshes being edited.
 */
export class GrowFloat {
  data: Float64Array;
  length = 0;
  constructor(expected = 1024) {
    this.data = new Float64Array(expected);
  }
  push(x: number): void {
    if (this.length === this.data.length) {
      const d = new Float64Array(2 * this.length);
      d.set(this.data);
      this.data = d;
    }
    this.data[this.length++] = x;
  }
}

export class GrowInt {
  data: Int32Array;
  length = 0;
  constructor(expected = 1024) {
    this.data = new Int32Array(expected);
  }
  push(x: number): void {
    if (this.length === this.data.length) {
      const d = new Int32Array(2 * this.length);
      d.set(this.data);
      this.data = d;
    }
    this.data[this.length++] = x;
  }
}
