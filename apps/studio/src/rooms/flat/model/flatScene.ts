import type { BufferGeometry, MeshStandardMaterial, Texture } from 'three';
import { resample, type MapKind } from '@zographos/core/image';
import type { Geometry } from '../../../viewport/geometry/geometryWorker.ts';
import { heightTexture, mapTexture, type BytesImage } from '../../../viewport/materials/mapTextures.ts';
import { setParallax } from '../../../viewport/materials/parallax.ts';
import { meshBody, PLAIN_FACES, shapeBody, type Shape, type ShapeBody } from '../../../viewport/geometry/shapes.ts';
import type { Body, Viewport } from '../../../viewport/Viewport.ts';
import { SINGLE_RELIEFS, type Relief, type SingleRelief } from './reliefs.ts';

export interface FlatLook {
  /** One of the shapes, or the mesh that was given. */
  shape: Shape | 'mesh';
  relief: Relief;
  /** How often the tile lies across the shape. */
  tiling: number;
  /** How high white lies over black, in tile widths. */
  depth: number;
  /** How many times as high it is shown. */
  amount: number;
  /** Faces along each side of a shape that is displaced. */
  faces: number;
}

/** A normal map bends light as much as a relief of this many times its height does in three.js. */
const BUMP_PER_HEIGHT = 40;
/** Shapes side by side: how large each is, and how far apart, in sizes of one. */
const SMALL = { size: 0.5, apart: 1.12 };

/** A material that repeats, on simple shapes or a mesh, as bodies for the view: relief by normals, bump, parallax or displacement. */
export class FlatScene {
  private readonly viewport: Viewport;
  private textures = new Map<MapKind, { of: BytesImage; texture: Texture }>();
  /** Plain, displaced and of a mesh, with the faces along each side that they were asked for. */
  private readonly shapes = new Map<string, { body: ShapeBody; faces: number }>();
  private mesh: Geometry | null = null;
  /** Heights in full precision, by how many texels they are wide. */
  private heights: { of: BytesImage | null; byWidth: Map<number, Texture> } = { of: null, byWidth: new Map() };
  private look: FlatLook | null = null;
  private framed = '';

  constructor(viewport: Viewport) {
    this.viewport = viewport;
  }

  setMaps(maps: ReadonlyMap<MapKind, BytesImage>): void {
    const before = this.textures;
    this.textures = new Map(
      [...maps].map(([kind, of]) => {
        const same = before.get(kind);
        return [kind, same?.of === of ? same : { of, texture: mapTexture(kind, of) }];
      }),
    );
    for (const [kind, { texture }] of before) if (this.textures.get(kind)?.texture !== texture) texture.dispose();
    this.build();
  }

  /** The mesh that is shown as a shape. */
  setMesh(mesh: Geometry | null): void {
    this.mesh = mesh;
    this.shapes.get('mesh')?.body.geometry.dispose();
    this.shapes.delete('mesh');
    this.build();
  }

  setLook(look: FlatLook): void {
    this.look = look;
    this.build();
  }

  dispose(): void {
    for (const { texture } of this.textures.values()) texture.dispose();
    for (const { body } of this.shapes.values()) body.geometry.dispose();
    for (const texture of this.heights.byWidth.values()) texture.dispose();
  }

  private build(): void {
    const { look } = this;
    if (!look) return;
    const reliefs = look.relief === 'compare' ? SINGLE_RELIEFS : [look.relief];
    const bodies = reliefs.flatMap((relief, i) => {
      const shape = this.shapeOf(look.shape, relief === 'displacement' ? look.faces : PLAIN_FACES);
      return shape ? [this.bodyOf(shape, look, relief, i - (reliefs.length - 1) / 2, reliefs.length > 1)] : [];
    });
    this.viewport.setBodies(bodies);
    this.frame(bodies);
  }

  private bodyOf(shape: ShapeBody, look: FlatLook, relief: SingleRelief, place: number, isSmall: boolean): Body {
    const [across, up] = shape.tiles;
    for (const { texture } of this.textures.values()) texture.repeat.set(across * look.tiling, up * look.tiling);
    const maps = new Map([...this.textures].map(([kind, { texture }]): [MapKind, Texture] => [kind, texture]));
    if (relief === 'bump') maps.delete('normal');
    const { geometry } = shape;
    const scale = isSmall ? SMALL.size : 1;
    return {
      geometry,
      parts: [{ from: 0, count: geometry.getIndex()?.count ?? geometry.getAttribute('position').count, maps }],
      at: [place * SMALL.apart * widthOf(geometry) * scale, 0, 0],
      scale,
      hasUvs: true,
      adjust: (material) => this.raise(material, shape, look, relief, scale),
    };
  }

  private raise(
    material: MeshStandardMaterial,
    shape: ShapeBody,
    { depth, amount, tiling }: FlatLook,
    relief: SingleRelief,
    scale: number,
  ): void {
    const height = this.textures.get('height')?.of;
    if (!height || relief === 'normal') return;
    const tall = (depth * amount * shape.tileWidth) / tiling;
    if (relief === 'bump') {
      material.bumpMap = this.heightOf(height, height.width, shape, tiling);
      material.bumpScale = tall * BUMP_PER_HEIGHT;
      return;
    }
    if (relief === 'parallax') {
      const map = this.heightOf(height, height.width, shape, tiling);
      if (map) setParallax(material, { map, tall: tall * scale });
      return;
    }
    // No finer than the faces that follow it: finer, its edges would be ragged.
    const texels = Math.min(height.width, Math.max(16, Math.round(shape.faces / tiling)));
    material.displacementMap = this.heightOf(height, texels, shape, tiling);
    material.displacementScale = tall;
    material.displacementBias = -tall / 2;
  }

  /** Framed anew for another shape or another number of shapes, not for another map. */
  private frame(bodies: readonly Body[]): void {
    const [first] = bodies;
    const name = first ? `${this.look!.shape} ${bodies.length} ${first.geometry.id}` : '';
    if (!first || name === this.framed) return;
    this.framed = name;
    first.geometry.computeBoundingBox();
    const { min, max } = first.geometry.boundingBox!;
    const scale = first.scale ?? 1;
    const reach = Math.abs(first.at![0]);
    this.viewport.frame(
      {
        min: [min.x * scale - reach, min.y * scale, min.z * scale],
        max: [max.x * scale + reach, max.y * scale, max.z * scale],
      },
      [0, 0.45, 0.9],
    );
  }

  /** Made once: a dense one takes a while. */
  private shapeOf(shape: FlatLook['shape'], faces: number): ShapeBody | null {
    if (shape === 'mesh' && !this.mesh) return null;
    const name = shape === 'mesh' ? shape : `${shape} ${faces === PLAIN_FACES ? 'plain' : 'displaced'}`;
    const held = this.shapes.get(name);
    if (held && (shape === 'mesh' || held.faces === faces)) return held.body;
    held?.body.geometry.dispose();
    const body = shape === 'mesh' ? meshBody(this.mesh!) : shapeBody(shape, faces);
    this.shapes.set(name, { body, faces });
    return body;
  }

  private heightOf(of: BytesImage, texels: number, { tiles }: ShapeBody, tiling: number): Texture | null {
    if (!of.values) return null;
    if (this.heights.of !== of) {
      for (const texture of this.heights.byWidth.values()) texture.dispose();
      this.heights = { of, byWidth: new Map() };
    }
    const texture = this.heights.byWidth.get(texels) ?? heightTexture(resized(of, of.values, texels));
    this.heights.byWidth.set(texels, texture);
    texture.repeat.set(tiles[0] * tiling, tiles[1] * tiling);
    return texture;
  }
}

function resized({ width, height }: BytesImage, values: Float32Array, texels: number) {
  const size = { width: texels, height: Math.max(1, Math.round((texels * height) / width)) };
  const { data } = resample({ width, height, channels: 1, data: values }, size, 'linear', 'repeat');
  return { ...size, values: data };
}

function widthOf(geometry: BufferGeometry): number {
  if (!geometry.boundingBox) geometry.computeBoundingBox();
  const { min, max } = geometry.boundingBox!;
  return max.x - min.x;
}
