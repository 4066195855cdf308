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

  push3(a: number, b: number, c: number): void {
    if (this.length + 3 > this.data.length) {
      this.push(a);
      this.push(b);
      this.push(c);
      return;
    }
    this.data[this.length] = a;
    this.data[this.length + 1] = b;
    this.data[this.length + 2] = c;
    this.length += 3;
  }

  at(index: number): number {
    return this.data[index]!;
  }

  /** The list as it is now, without a copy. */
  view(): Float32Array {
    return this.data.subarray(0, this.length);
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

  push3(a: number, b: number, c: number): void {
    if (this.length + 3 > this.data.length) {
      this.push(a);
      this.push(b);
      this.push(c);
      return;
    }
    this.data[this.length] = a;
    this.data[this.length + 1] = b;
    this.data[this.length + 2] = c;
    this.length += 3;
  }

  at(index: number): number {
    return this.data[index]!;
  }

  /** The list as it is now, without a copy. */
  view(): Int32Array {
    return this.data.subarray(0, this.length);
  }
}
