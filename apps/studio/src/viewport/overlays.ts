import {
  BufferAttribute,
  BufferGeometry,
  DoubleSide,
  Group,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  Points,
  PointsMaterial,
  SphereGeometry,
  WireframeGeometry,
} from 'three';
import type { Geometry } from './geometry/geometryWorker.ts';

/** How far rays reach around a receiver: a clear skin outside, and the lines of one inside. */
export class Shell {
  readonly group = new Group();

  set({ positions, directions, vertices }: Geometry, reach: { out: Float32Array; in: Float32Array }): void {
    this.clear();
    if (!directions || !vertices) return;
    const skin = (of: Float32Array, sign: number): BufferGeometry => {
      const moved = new Float32Array(positions.length);
      for (let i = 0; i < moved.length; i++) {
        moved[i] = positions[i]! + directions[i]! * of[vertices[Math.floor(i / 3)]!]! * sign;
      }
      return new BufferGeometry().setAttribute('position', new BufferAttribute(moved, 3));
    };
    const outer = skin(reach.out, 1);
    const clear = new MeshBasicMaterial({
      color: 0x2d62b8,
      transparent: true,
      opacity: 0.16,
      depthWrite: false,
      side: DoubleSide,
    });
    this.group.add(new Mesh(outer, clear), lines(outer, 0x2d62b8, 0.5), lines(skin(reach.in, -1), 0x9a6a10, 0.25));
    for (const child of this.group.children) child.frustumCulled = false;
  }

  clear(): void {
    for (const child of [...this.group.children]) {
      this.group.remove(child);
      if (child instanceof Mesh || child instanceof LineSegments) {
        (child.geometry as BufferGeometry).dispose();
        (child.material as MeshBasicMaterial).dispose();
      }
    }
  }
}

function lines(geometry: BufferGeometry, color: number, opacity: number): LineSegments {
  return new LineSegments(
    new WireframeGeometry(geometry),
    new LineBasicMaterial({ color, transparent: true, opacity }),
  );
}

/** Points along seams, from pale where both sides agree to red where they differ most. */
export class SeamHeat {
  readonly points: Points;
  private readonly material = new PointsMaterial({ size: 5, sizeAttenuation: false, vertexColors: true });

  constructor() {
    this.points = new Points(new BufferGeometry(), this.material);
    this.points.frustumCulled = false;
    this.points.visible = false;
  }

  set(places: readonly number[], worst: number): void {
    const count = places.length / 4;
    this.points.visible = count > 0;
    this.points.geometry.dispose();
    const positions = new Float32Array(count * 3);
    const colors = new Float32Array(count * 3);
    for (let i = 0; i < count; i++) {
      for (let k = 0; k < 3; k++) positions[i * 3 + k] = places[i * 4 + k]!;
      const share = Math.min(1, places[i * 4 + 3]! / (worst || 1));
      colors.set([1, 0.9 - 0.75 * share, 0.7 - 0.65 * share], i * 3);
    }
    this.points.geometry = new BufferGeometry()
      .setAttribute('position', new BufferAttribute(positions, 3))
      .setAttribute('color', new BufferAttribute(colors, 3));
  }
}

/** A small ball that is seen through everything. */
export function placeMarker(): Mesh {
  const material = new MeshBasicMaterial({ color: 0xc8321e, depthTest: false, transparent: true, opacity: 0.9 });
  const marker = new Mesh(new SphereGeometry(1, 16, 12), material);
  marker.renderOrder = 10;
  marker.visible = false;
  return marker;
}
