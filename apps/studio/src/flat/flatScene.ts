import type { BufferAttribute } from 'three';
import {
  ACESFilmicToneMapping,
  BoxGeometry,
  Color,
  CylinderGeometry,
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
  PlaneGeometry,
  RedFormat,
  RepeatWrapping,
  RGBAFormat,
  Scene,
  SphereGeometry,
  SRGBColorSpace,
  WebGLRenderer,
  type BufferGeometry,
  type Texture,
} from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import type { MapKind } from '@zographos/core';
import { rgbOf } from '../theme/rgbOf.ts';
import type { Shown } from './flatWorker.ts';
import { surroundingLight, type Surrounding } from './surroundings.ts';

export const SHAPES = ['plane', 'cube', 'sphere', 'cylinder'] as const;
export type FlatShape = (typeof SHAPES)[number];

/** How relief is shown: one way, or three side by side under the same light. */
export const RELIEFS = ['normal', 'bump', 'displacement', 'side by side'] as const;
export type Relief = (typeof RELIEFS)[number];

/** A map on its way to the view. */
export interface FlatPicture extends Shown {
  /** Of heights: 0 to 1. */
  values: Float32Array | null;
}

export interface FlatLook {
  shape: FlatShape;
  relief: Relief;
  surrounding: Surrounding;
  /** How often the tile lies across the shape. */
  tiling: number;
  /** How high white lies over black, in tile widths. */
  depth: number;
  /** One map alone, without light. */
  alone: MapKind | null;
}

/** How many tiles lie round a shape and up it, so that they are about square there. */
const LENGTHS: Record<FlatShape, readonly [across: number, up: number]> = {
  plane: [1, 1],
  cube: [1, 1],
  sphere: [2, 1],
  cylinder: [3, 1],
};

/** Faces of a displaced shape along each side: enough to follow a height, few enough to be drawn by any machine. */
const FACES = 320;
const SINGLE: Exclude<Relief, 'side by side'>[] = ['normal', 'bump', 'displacement'];

/** A material on simple shapes; draws only when something has changed. Dragging turns, with the right button the light. */
export class FlatScene {
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly camera = new PerspectiveCamera(30, 1, 0.05, 60);
  private readonly controls: OrbitControls;
  private readonly sun = new DirectionalLight('#fffaf0', 2.2);
  private textures = new Map<MapKind, Texture>();
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
    for (const texture of this.textures.values()) texture.dispose();
    this.textures = new Map([...maps].map(([kind, picture]) => [kind, textureOf(kind, picture)]));
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
    for (const texture of this.textures.values()) texture.dispose();
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
      body.geometry.dispose();
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
    const [across, up] = LENGTHS[look.shape];
    for (const texture of this.textures.values()) texture.repeat.set(across * look.tiling, up * look.tiling);
    const reliefs = look.relief === 'side by side' ? SINGLE : [look.relief];
    const size = reliefs.length > 1 ? 0.62 : 1;
    reliefs.forEach((relief, i) => {
      const body = new Mesh(geometryOf(look.shape, relief === 'displacement'), this.material(look, relief));
      body.scale.setScalar(size);
      body.position.x = (i - (reliefs.length - 1) / 2) * 1.55;
      this.bodies.push(body);
      this.scene.add(body);
    });
    this.draw();
  }

  private material(
    { alone, depth, tiling }: FlatLook,
    relief: Exclude<Relief, 'side by side'>,
  ): MeshStandardMaterial | MeshBasicMaterial {
    const map = (kind: MapKind): Texture | null => this.textures.get(kind) ?? null;
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
    // Lengths on the shapes: a tile is 2 / tiling wide.
    const tall = (depth * 2) / tiling;
    if (relief !== 'bump') material.normalMap = map('normal');
    // Texture rows run down here, green of a normal points up.
    material.normalScale.set(1, -1);
    if (relief === 'bump' && height) {
      material.bumpMap = height;
      material.bumpScale = tall * 40;
    }
    if (relief === 'displacement' && height) {
      material.displacementMap = height;
      material.displacementScale = tall;
      material.displacementBias = -tall / 2;
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

function geometryOf(shape: FlatShape, isDense: boolean): BufferGeometry {
  const faces = isDense ? FACES : 64;
  const geometry = solid(shape, faces);
  // Row 0 of a texture that is not turned over lies at v = 0.
  const uvs = geometry.getAttribute('uv') as BufferAttribute;
  for (let i = 0; i < uvs.count; i++) uvs.setY(i, 1 - uvs.getY(i));
  return geometry;
}

function solid(shape: FlatShape, faces: number): BufferGeometry {
  switch (shape) {
    case 'plane':
      return new PlaneGeometry(2, 2, faces, faces).rotateX(-Math.PI / 2);
    case 'cube':
      return new BoxGeometry(1.3, 1.3, 1.3, faces / 2, faces / 2, faces / 2);
    case 'sphere':
      return new SphereGeometry(0.95, faces * 2, faces);
    case 'cylinder':
      return new CylinderGeometry(0.7, 0.7, 1.7, faces * 2, faces, true);
  }
}
