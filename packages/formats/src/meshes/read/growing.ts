/** A typed list that grows by doubling: arrays of numbers without the cost of boxed values. */
class GrowingList<List extends Float32Array | Int32Array> {
  length = 0;
  private data: List;
  private readonly make: (length: number) => List;

  constructor(make: (length: number) => List) {
    this.make = make;
    this.data = make(1024);
  }

  push(value: number): void {
    if (this.length === this.data.length) this.grow();
    this.data[this.length++] = value;
  }

  push3(a: number, b: number, c: number): void {
    if (this.length + 3 > this.data.length) this.grow();
    this.data[this.length] = a;
    this.data[this.length + 1] = b;
    this.data[this.length + 2] = c;
    this.length += 3;
  }

  at(index: number): number {
    return this.data[index]!;
  }

  /** The list as it is now, without a copy. */
  view(): List {
    return this.data.subarray(0, this.length) as List;
  }

  private grow(): void {
    const larger = this.make(this.data.length * 2);
    larger.set(this.data);
    this.data = larger;
  }
}

export class GrowingFloats extends GrowingList<Float32Array> {
  constructor() {
    super((length) => new Float32Array(length));
  }
}

export class GrowingInts extends GrowingList<Int32Array> {
  constructor() {
    super((length) => new Int32Array(length));
  }
}
