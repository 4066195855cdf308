/** A mesh and the maps on it, as they are shown together. */
export interface Dressed<Geometry, Maps> {
  /** What names the mesh as it is: its content and UV set. */
  key: string;
  geometry: Geometry;
  maps: Maps;
}

/**
 * Loads a mesh and its maps so that both change together: while the next ones are on their way, those before stay, and what
 * has been overtaken is dropped. Only the very first mesh is shown before its maps are there.
 * @example
 * const dressing = new Dressing(new Map(), (dressed) => show(dressed));
 * await dressing.wear('revision 3', () => loadGeometry(…), () => pictures.load(…));
 */
export class Dressing<Geometry, Maps> {
  current: Dressed<Geometry, Maps> | null = null;
  private readonly bare: Maps;
  private readonly onChange: (dressed: Dressed<Geometry, Maps>) => void;
  private turn = 0;

  /** @param bare what a mesh carries that has no maps yet */
  constructor(bare: Maps, onChange: (dressed: Dressed<Geometry, Maps>) => void) {
    this.bare = bare;
    this.onChange = onChange;
  }

  /** @throws what loading throws; what was shown stays */
  async wear(key: string, geometry: () => Promise<Geometry>, maps: () => Promise<Maps>): Promise<void> {
    const mine = ++this.turn;
    const known = this.current?.key === key ? this.current.geometry : null;
    const [coming, carried] = [known ?? geometry(), maps()];
    // Whichever fails first is told; the other is not left without anybody to hear of it.
    const both = Promise.all([coming, carried]);
    both.catch(() => {});
    if (!this.current) {
      const first = await coming;
      if (mine === this.turn) this.put({ key, geometry: first, maps: this.bare });
    }
    const [shape, loaded] = await both;
    if (mine === this.turn) this.put({ key, geometry: shape, maps: loaded });
  }

  private put(dressed: Dressed<Geometry, Maps>): void {
    this.current = dressed;
    this.onChange(dressed);
  }
}
