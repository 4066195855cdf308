import {
  ACESFilmicToneMapping,
  Color,
  DataTexture,
  DataUtils,
  DirectionalLight,
  DoubleSide,
  HalfFloatType,
  LinearFilter,
  LinearMipmapLinearFilter,
  LinearSRGBColorSpace,
  Mesh,
  MeshBasicMaterial,
  MeshStandardMaterial,
  PerspectiveCamera,
  RedFormat,
  RepeatWrapping,
  RGBAFormat,
  Scene,
  SRGBColorSpace,
  WebGLRenderer,
  type Texture,
} from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import { resample, type MapKind } from '@zographos/core/image';
import type { Geometry } from '../../../viewport/geometryWorker.ts';
import { rgbOf } from '../../../theme/rgbOf.ts';
import {
  displaceAlongDirections,
  meshBody,
  shapeBody,
  type FlatShape,
  type ShapeBody,
} from '../../../viewport/shapes.ts';
import type { Shown } from '../preview/flatWorker.ts';
import { surroundingLight, type Surrounding } from '../../../viewport/environments.ts';

/** How relief is shown: one way, or three side by side under the same light. */
export const RELIEFS = ['normal', 'bump', 'displacement', 'side by side'] as const;
export type Relief = (typeof RELIEFS)[number];

/** A map on its way to the view. */
export interface FlatPicture extends Shown {
  /** Of heights: 0 to 1. */
  values: Float32Array | null;
}

export interface FlatLook {
  /** One of the shapes, or the mesh that was given. */
  shape: FlatShape | 'mesh';
  relief: Relief;
  surrounding: Surrounding;
  /** How often the tile lies across the shape. */
  tiling: number;
  /** How high white lies over black, in tile widths. */
  depth: number;
  /** One map alone, without light. */
  alone: MapKind | null;
}

const SINGLE: Exclude<Relief, 'side by side'>[] = ['normal', 'bump', 'displacement'];

/** A material on simple shapes; draws only when something has changed. Dragging turns, with the right button the light. */
export class FlatScene {
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly camera = new PerspectiveCamera(30, 1, 0.05, 60);
  private readonly controls: OrbitControls;
  private readonly sun = new DirectionalLight('#fffaf0', 2.2);
  private textures = new Map<MapKind, { of: FlatPicture; texture: Texture }>();
  private readonly shapes = new Map<string, ShapeBody>();
  private mesh: Geometry | null = null;
  private relief: { of: FlatPicture; texels: number; texture: Texture } | null = null;
  private bodies: Mesh[] = [];
  private look: FlatLook | null = null;
  private light: Texture | null = null;
  private lightOf: Surrounding | null = null;
  private azimuth = 0.7;
  private elevation = 0.6;
  private pending = 0;

  constructor(canvas: HTMLCanvasElement) {
    this.renderer = new WebGLRenderer({ canvas, antialias: true });
    this.renderer.setPixelRatio(Math.min(2, window.devicePixelRatio));
    this.renderer.toneMapping = ACESFilmicToneMapping;
    this.camera.position.set(0, 2.1, 4.4);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.enablePan = false;
    this.controls.minDistance = 1.4;
    this.controls.maxDistance = 12;
    this.controls.addEventListener('change', () => this.draw());
    this.scene.add(this.sun);
    canvas.addEventListener('contextmenu', (event) => event.preventDefault());
    canvas.addEventListener('pointermove', this.turnLight);
    this.placeSun();
  }

  setSurround(color: string): void {
    const [r, g, b] = rgbOf(color);
    this.scene.background = new Color().setRGB(r, g, b, SRGBColorSpace);
    this.draw();
  }

  resize(width: number, height: number): void {
    this.renderer.setSize(width, height, false);
    this.camera.aspect = width / height;
    this.camera.updateProjectionMatrix();
    this.draw();
  }

  setMaps(maps: ReadonlyMap<MapKind, FlatPicture>): void {
    const before = this.textures;
    this.textures = new Map(
      [...maps].map(([kind, of]) => {
        const same = before.get(kind);
        return [kind, same?.of === of ? same : { of, texture: textureOf(kind, of) }];
      }),
    );
    for (const [kind, { texture }] of before) if (this.textures.get(kind)?.texture !== texture) texture.dispose();
    this.build();
  }

  /** The mesh that is shown as a shape. */
  setMesh(mesh: Geometry | null): void {
    this.mesh = mesh;
    this.shapes.get('mesh')?.geometry.dispose();
    this.shapes.delete('mesh');
    this.build();
  }

  setLook(look: FlatLook): void {
    // Three shapes side by side need more room.
    const [before, now] = [this.look?.relief, look.relief].map((relief) => relief === 'side by side');
    if (before !== now) this.camera.position.multiplyScalar(now ? 1.45 : before ? 1 / 1.45 : 1);
    this.controls.update();
    this.look = look;
    this.build();
  }

  dispose(): void {
    this.clear();
    for (const { texture } of this.textures.values()) texture.dispose();
    for (const { geometry } of this.shapes.values()) geometry.dispose();
    this.relief?.texture.dispose();
    this.light?.dispose();
    this.controls.dispose();
    this.renderer.dispose();
  }

  private readonly turnLight = (event: PointerEvent): void => {
    if (!(event.buttons & 2)) return;
    this.azimuth += event.movementX / 120;
    this.elevation = Math.max(0.05, Math.min(1.5, this.elevation - event.movementY / 160));
    this.placeSun();
    this.draw();
  };

  /** Turns the light by so many degrees, for whoever has no mouse. */
  turn(degrees: number): void {
    this.azimuth += (degrees * Math.PI) / 180;
    this.placeSun();
    this.draw();
  }

  private placeSun(): void {
    const across = Math.cos(this.elevation);
    this.sun.position.set(across * Math.sin(this.azimuth), Math.sin(this.elevation), across * Math.cos(this.azimuth));
  }

  private clear(): void {
    for (const body of this.bodies) {
      this.scene.remove(body);
      (body.material as MeshStandardMaterial).dispose();
    }
    this.bodies = [];
  }

  private build(): void {
    this.clear();
    const { look } = this;
    if (!look) return;
    if (this.lightOf !== look.surrounding) {
      this.light?.dispose();
      this.light = surroundingLight(this.renderer, look.surrounding);
      this.lightOf = look.surrounding;
      this.scene.environment = this.light;
      this.sun.intensity = look.surrounding === 'even' ? 0 : 2.2;
    }
    const reliefs = look.relief === 'side by side' ? SINGLE : [look.relief];
    const size = reliefs.length > 1 ? 0.62 : 1;
    reliefs.forEach((relief, i) => {
      const shape = this.shapeOf(look.shape, relief === 'displacement');
      if (!shape) return;
      const [across, up] = shape.tiles;
      for (const { texture } of this.textures.values()) texture.repeat.set(across * look.tiling, up * look.tiling);
      const body = new Mesh(shape.geometry, this.material(look, shape, relief));
      body.scale.setScalar(size);
      body.position.x = (i - (reliefs.length - 1) / 2) * 1.55;
      this.bodies.push(body);
      this.scene.add(body);
    });
    this.draw();
  }

  /** Made once: a dense one takes a while. */
  private shapeOf(shape: FlatLook['shape'], isDense: boolean): ShapeBody | null {
    if (shape === 'mesh' && !this.mesh) return null;
    const name = shape === 'mesh' ? shape : `${shape} ${isDense}`;
    const body = this.shapes.get(name) ?? (shape === 'mesh' ? meshBody(this.mesh!) : shapeBody(shape, isDense));
    this.shapes.set(name, body);
    return body;
  }

  /** The height for displacement, no finer than the faces that follow it: finer, its edges would be ragged. */
  private reliefOf({ tiles, faces }: ShapeBody, tiling: number): Texture | null {
    const of = this.textures.get('height')?.of;
    if (!of?.values) return null;
    const texels = Math.min(of.width, Math.max(16, Math.round(faces / tiling)));
    if (this.relief?.of !== of || this.relief.texels !== texels) {
      this.relief?.texture.dispose();
      const { width, height, values } = of;
      const size = { width: texels, height: Math.max(1, Math.round((texels * height) / width)) };
      const small = resample({ width, height, channels: 1, data: values }, size, 'linear', 'repeat');
      this.relief = { of, texels, texture: textureOf('height', { ...of, ...size, values: small.data }) };
    }
    const { texture } = this.relief;
    texture.repeat.set(tiles[0] * tiling, tiles[1] * tiling);
    return texture;
  }

  private material(
    { shape: name, alone, depth, tiling }: FlatLook,
    shape: ShapeBody,
    relief: Exclude<Relief, 'side by side'>,
  ): MeshStandardMaterial | MeshBasicMaterial {
    const map = (kind: MapKind): Texture | null => this.textures.get(kind)?.texture ?? null;
    if (alone) return new MeshBasicMaterial({ map: map(alone), toneMapped: false });
    const [roughness, metallic, height] = [map('roughness'), map('metallic'), map('height')];
    const isTransparent = map('opacity') !== null;
    const material = new MeshStandardMaterial({
      color: map('basecolor') ? '#ffffff' : '#a8a8a8',
      map: map('basecolor'),
      aoMap: map('ao'),
      roughnessMap: roughness,
      roughness: roughness ? 1 : 0.7,
      metalnessMap: metallic,
      metalness: metallic ? 1 : 0,
      alphaMap: map('opacity'),
      transparent: isTransparent,
      // One looks into the cylinder from above.
      side: DoubleSide,
    });
    const tall = (depth * shape.tileWidth) / tiling;
    if (relief !== 'bump') material.normalMap = map('normal');
    // Texture rows run down here, green of a normal points up.
    material.normalScale.set(1, -1);
    if (relief === 'bump' && height) {
      material.bumpMap = height;
      material.bumpScale = tall * 40;
    }
    const coarse = relief === 'displacement' ? this.reliefOf(shape, tiling) : null;
    if (coarse) {
      material.displacementMap = coarse;
      material.displacementScale = tall;
      material.displacementBias = -tall / 2;
      if (name === 'mesh') displaceAlongDirections(material);
    }
    return material;
  }

  private draw(): void {
    this.pending ||= requestAnimationFrame(() => {
      this.pending = 0;
      this.renderer.render(this.scene, this.camera);
    });
  }
}

function textureOf(kind: MapKind, { width, height, rgba, values }: FlatPicture): Texture {
  const texture =
    values && kind === 'height'
      ? new DataTexture(
          Uint16Array.from(values, (value) => DataUtils.toHalfFloat(value)),
          width,
          height,
          RedFormat,
          HalfFloatType,
        )
      : new DataTexture(rgba, width, height, RGBAFormat);
  texture.colorSpace = kind === 'basecolor' || kind === 'emission' ? SRGBColorSpace : LinearSRGBColorSpace;
  texture.wrapS = RepeatWrapping;
  texture.wrapT = RepeatWrapping;
  texture.magFilter = LinearFilter;
  texture.minFilter = kind === 'height' ? LinearFilter : LinearMipmapLinearFilter;
  texture.generateMipmaps = kind !== 'height';
  texture.anisotropy = 8;
  // Row 0 is the top of the picture, which lies at v = 1.
  texture.flipY = false;
  texture.needsUpdate = true;
  return texture;
}
