/**
 * What was computed last of things that change: a few results for each name. A result is forgotten
 * when newer ones of its name come, so that values which undo keeps alive do not keep alive what was
 * computed of them.
 */
export class Latest<Key, Value> {
  private readonly byName = new Map<string, { key: Key; value: Value }[]>();

  /**
   * @param each how many results are kept of one name
   * @param names how many names are kept; the one that was asked for longest ago goes first
   */
  constructor(
    private readonly each: number,
    private readonly names: number,
  ) {}

  /**
   * @param isSame whether what is wanted was computed of this key before
   * @param key what it is computed of now
   */
  of(name: string, isSame: (known: Key) => boolean, key: Key, compute: () => Value): Value {
    const known = this.byName.get(name) ?? [];
    const found = known.find((one) => isSame(one.key));
    if (found) {
      if (this.names > 1 && this.byName.size > this.names / 2) this.touch(name, known);
      return found.value;
    }
    const value = compute();
    this.touch(name, [{ key, value }, ...known.slice(0, this.each - 1)]);
    if (this.byName.size > this.names) this.byName.delete(this.byName.keys().next().value!);
    return value;
  }

  private touch(name: string, results: { key: Key; value: Value }[]): void {
    this.byName.delete(name);
    this.byName.set(name, results);
  }
}
