/** Keeps the last result of each named step as long as its key stays the same, so that a preview recomputes only what a setting changes. */
export class Memo {
  private readonly known = new Map<string, { key: string; value: unknown }>();

  /** Whether a step was made with that key. */
  has(name: string, key: string): boolean {
    return this.known.get(name)?.key === key;
  }

  /** Lets go of what a step has made. */
  forget(name: string): void {
    this.known.delete(name);
  }

  /**
   * What a step makes, made again only when its key is another.
   * @param make always of the same type for one name
   */
  once<T>(name: string, key: string, make: () => T): T {
    const known = this.known.get(name);
    if (known?.key === key) return known.value as T;
    // What is out of date goes first, so that both are never held at once.
    this.known.delete(name);
    const value = make();
    this.known.set(name, { key, value });
    return value;
  }
}
