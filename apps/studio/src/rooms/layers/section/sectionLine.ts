import {
  BufferGeometry,
  CanvasTexture,
  Float32BufferAttribute,
  Group,
  Line,
  LineBasicMaterial,
  Sprite,
  SpriteMaterial,
} from 'three';
import type { Camera, Vector3 } from 'three';
import type { Picker } from '../../../viewport/picking.ts';
import type { SectionLine } from '../preview/layersMessages.ts';

/** Places of the view, 0 to 1 from its upper left. */
export type ViewPlace = readonly [x: number, y: number];

/** Places along a section. */
const STEPS = 128;

/** What the line over the model looks like: the line itself, and its two ends. */
export class SectionDrawing {
  readonly group = new Group();
  /** x, y, z of each place of the line. */
  points: Float32Array = new Float32Array(0);
  private readonly line = new Line(new BufferGeometry(), new LineBasicMaterial({ color: '#1f5aa8', depthTest: false }));
  private readonly halo = new Line(new BufferGeometry(), new LineBasicMaterial({ color: '#ffffff', depthTest: false }));
  private readonly ends = ['A', 'B'].map(endMark);

  constructor() {
    this.halo.renderOrder = 9;
    this.line.renderOrder = 10;
    this.group.add(this.halo, this.line, ...this.ends);
    this.group.visible = false;
  }

  /** @param points x, y, z of each place */
  set(points: Float32Array): void {
    this.points = points;
    const [count, last] = [points.length / 3, points.length - 3];
    this.group.visible = count > 1;
    if (count < 2) return;
    for (const each of [this.line, this.halo]) {
      each.geometry.setAttribute('position', new Float32BufferAttribute(points, 3));
      each.geometry.computeBoundingSphere();
    }
    this.ends.forEach((end, i) => end.position.fromArray(points, i === 0 ? 0 : last));
  }

  dispose(): void {
    for (const { geometry, material } of [this.line, this.halo]) {
      geometry.dispose();
      material.dispose();
    }
    for (const { material } of this.ends) {
      material.map?.dispose();
      material.dispose();
    }
  }
}

/** Texels along the side of a mark. */
const MARK = 64;

/** One end of the line: a disk with its letter, always as large on screen. */
function endMark(letter: string): Sprite {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = MARK;
  const context = canvas.getContext('2d');
  if (context) {
    context.fillStyle = '#1f5aa8';
    context.beginPath();
    context.arc(MARK / 2, MARK / 2, MARK / 2 - 2, 0, 2 * Math.PI);
    context.fill();
    context.fillStyle = '#ffffff';
    context.font = `600 ${MARK * 0.6}px sans-serif`;
    context.textAlign = 'center';
    context.textBaseline = 'middle';
    context.fillText(letter, MARK / 2, MARK / 2 + 2);
  }
  const material = new SpriteMaterial({
    ...{ map: new CanvasTexture(canvas), depthTest: false, sizeAttenuation: false, toneMapped: false },
  });
  const sprite = new Sprite(material);
  sprite.scale.setScalar(0.02);
  sprite.renderOrder = 11;
  return sprite;
}

/**
 * The line over the surface between two places of the view, as it is seen from there; places beside the model are left out.
 * @param triangleOf the triangle of the meshes that a face of the picked geometry is of
 * @returns null where the line does not meet the model twice
 */
export function lineBetween(
  from: ViewPlace,
  to: ViewPlace,
  picker: Picker,
  camera: Camera,
  triangleOf: (face: number) => number,
): SectionLine | null {
  const hits: { point: Vector3; triangle: number }[] = [];
  for (let i = 0; i < STEPS; i++) {
    const share = i / (STEPS - 1);
    const hit = picker.under(from[0] + (to[0] - from[0]) * share, from[1] + (to[1] - from[1]) * share, camera);
    if (hit) hits.push({ point: hit.point, triangle: triangleOf(hit.face) });
  }
  if (hits.length < 2) return null;
  return {
    triangles: Uint32Array.from(hits, ({ triangle }) => triangle),
    points: Float32Array.from(hits.flatMap(({ point: { x, y, z } }) => [x, y, z])),
  };
}
