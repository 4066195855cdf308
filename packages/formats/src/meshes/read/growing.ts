/** A typed list that grows by doubling: arrays of numbers without the cost of boxed values. */
export class GrowingFloats {
  length = 0;
  private data = new Float32Array(1024);

  push(value: number): void {
    if (this.length === this.data.length) {
      const larger = new Float32Array(this.data.length * 2);
      larger.set(this.data);
      this.data = larger;
    }
    this.data[this.length++] = value;
  }

  at(index: number): number {
    return this.data[index]!;
  }

  toArray(): Float32Array {
    return this.data.slice(0, this.length);
  }
}

export class GrowingInts {
  length = 0;
  private data = new Int32Array(1024);

  push(value: number): void {
    if (this.length === this.data.length) {
      const larger = new Int32Array(this.data.length * 2);
      larger.set(this.data);
      this.data = larger;
    }
    this.data[this.length++] = value;
  }

  at(index: number): number {
    return this.data[index]!;
  }

  set(index: number, value: number): void {
    this.data[index] = value;
  }
}
