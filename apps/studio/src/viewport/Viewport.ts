import {
  Color,
  DataTexture,
  DirectionalLight,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  NeutralToneMapping,
  PerspectiveCamera,
  Scene,
  SRGBColorSpace,
  Vector3,
  WebGLRenderer,
  WireframeGeometry,
  type BufferGeometry,
  type Material,
  type MeshStandardMaterial,
  type Object3D,
  type Texture,
} from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import { GLTF_NORMAL, type MapKind, type NormalSpace } from '@zographos/core/image';
import { rgbOf } from '../theme/rgbOf.ts';
import { environmentLight, type Environment } from './environments.ts';
import { centreOf, distanceToFrame, type Box, type Vector } from './frameCamera.ts';
import { checkerTexture } from './materials/mapTextures.ts';
import { setNormalStrength, viewMaterial, type MapTextures } from './materials/viewMaterial.ts';

/** Lit with all its maps, one map without light, or a checker. */
export type Shading = 'lit' | 'map' | 'checker';

/** How everything in a view is shown. */
export interface ViewLook {
  shading: Shading;
  /** The map that is shown without light. */
  alone: MapKind | null;
  wireframe: boolean;
  environment: Environment;
  /** In stops: 0 as it is, 1 twice as bright. */
  exposure: number;
  /** 0 to 2, 1 as the map is. */
  normalStrength: number;
}

export const DEFAULT_LOOK: ViewLook = {
  shading: 'lit',
  alone: null,
  wireframe: false,
  environment: 'studio',
  exposure: 0,
  normalStrength: 1,
};

/** Something to be shown: its parts lie one after the other, each with maps of its own. */
export interface Body {
  geometry: BufferGeometry;
  parts: readonly { from: number; count: number; maps: MapTextures; normals?: NormalSpace }[];
  /** Where it stands, and how large. */
  at?: Vector;
  scale?: number;
  /** Whether it has UVs that maps and checkers can lie on. */
  hasUvs: boolean;
  /** A last change to each of its lit materials. */
  adjust?: (material: MeshStandardMaterial) => void;
}

interface Shown {
  mesh: Mesh;
  edges: LineSegments | null;
}

/** How long shaders are waited for; what is not compiled by then is while the page waits. */
const MOST_COMPILE_MS = 2000;

/** Where the eye stands at first, from the middle of what it looks at. */
const EYE: Vector = [0.5, 0.34, 0.8];

/**
 * The three-dimensional view of every room. It frames what it shows, lights it with an environment and a lamp that keep
 * to the viewer's side, and draws only when something has changed. Dragging turns the view, with the right button the light.
 */
export class Viewport {
  readonly camera = new PerspectiveCamera(30, 1, 0.01, 100);
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly controls: OrbitControls;
  private readonly lamp = new DirectionalLight('#fffaf0', 2);
  private readonly checker = checkerTexture();
  private readonly canvas: HTMLCanvasElement;
  private look: ViewLook = DEFAULT_LOOK;
  private bodies: Body[] = [];
  private shown: Shown[] = [];
  private light: { of: Environment; texture: Texture } | null = null;
  private azimuth = 40;
  private elevation = 35;
  private framed: Box | null = null;
  private isTouched = false;
  private pending = 0;
  /** Whether there are materials whose shaders may have to be compiled, and whether that is under way. */
  private hasNewShaders = false;
  private isCompiling = false;
  /** Materials that are shown no more: kept until those that follow have taken over their shaders. */
  private retired: Material[] = [];
  private isClosed = false;
  /** The version of each texture that was sent last. */
  private readonly sent = new WeakMap<Texture, number>();
  private compiles = 0;

  constructor(canvas: HTMLCanvasElement) {
    this.canvas = canvas;
    this.renderer = new WebGLRenderer({ canvas, antialias: true, powerPreference: 'high-performance' });
    this.renderer.setPixelRatio(Math.min(2, window.devicePixelRatio));
    this.renderer.toneMapping = NeutralToneMapping;
    // Asking the graphics card for errors of shaders waits for it; those of three.js have none.
    this.renderer.debug.checkShaderErrors = false;
    // Known from the start, these need not be asked for when a part of a texture is written first.
    const { UNPACK_ROW_LENGTH, UNPACK_SKIP_PIXELS, UNPACK_SKIP_ROWS } = WebGL2RenderingContext;
    for (const name of [UNPACK_ROW_LENGTH, UNPACK_SKIP_PIXELS, UNPACK_SKIP_ROWS]) {
      this.renderer.state.pixelStorei(name, 0);
    }
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.enablePan = false;
    this.controls.addEventListener('change', () => this.draw());
    this.controls.addEventListener('start', () => (this.isTouched = true));
    this.scene.add(this.lamp, this.lamp.target);
    canvas.addEventListener('pointerdown', this.beginLight);
    canvas.addEventListener('contextmenu', (event) => event.preventDefault());
  }

  /** Something beside the bodies: overlays, markers. */
  add(...objects: Object3D[]): void {
    this.scene.add(...objects);
    this.hasNewShaders = true;
    this.draw();
  }

  setBackground(color: string): void {
    const [r, g, b] = rgbOf(color);
    this.scene.background = new Color().setRGB(r, g, b, SRGBColorSpace);
    this.draw();
  }

  resize(width: number, height: number): void {
    this.renderer.setSize(width, height, false);
    this.camera.aspect = width / height;
    // What nobody has turned or moved stays framed in the new shape of the view.
    if (this.framed && !this.isTouched) this.frame(this.framed);
    else this.camera.updateProjectionMatrix();
    this.draw();
  }

  /** Moves the eye so that a box fills the view. @param from where the eye stands, from the middle of the box */
  frame(box: Box, from: Vector = EYE): void {
    this.framed = box;
    this.isTouched = false;
    const centre = new Vector3(...centreOf(box));
    const radius = new Vector3(...box.max).distanceTo(new Vector3(...box.min)) / 2 || 1;
    const forward: Vector = [-from[0], -from[1], -from[2]];
    const fieldOfView = (this.camera.fov * Math.PI) / 180;
    const distance = distanceToFrame(box, forward, fieldOfView, this.camera.aspect);
    this.controls.target.copy(centre);
    this.camera.position.copy(centre).addScaledVector(new Vector3(...from).normalize(), distance);
    this.camera.near = radius / 200;
    this.camera.far = distance + radius * 25;
    this.controls.minDistance = radius * 0.1;
    this.controls.maxDistance = radius * 20;
    this.camera.updateProjectionMatrix();
    this.controls.update();
    this.draw();
  }

  /** Turns the view so that a place can be seen from outside. */
  lookAt(place: Vector, outward: Vector, distance: number): void {
    this.isTouched = true;
    const target = new Vector3(...place);
    const away = new Vector3(...outward);
    if (away.length() < distance * 0.05) away.subVectors(this.camera.position, this.controls.target);
    this.controls.target.copy(target);
    this.camera.position.copy(target).addScaledVector(away.normalize(), distance);
    this.controls.update();
    this.draw();
  }

  /** Shows some bodies and nothing else. Their geometry and textures belong to whoever made them. */
  setBodies(bodies: Body[]): void {
    this.bodies = bodies;
    this.build();
  }

  setLook(look: ViewLook): void {
    const before = this.look;
    this.look = look;
    const isRebuilt = before.shading !== look.shading || before.alone !== look.alone;
    if (isRebuilt) this.build();
    else {
      if (before.normalStrength !== look.normalStrength) {
        for (const material of this.materials())
          setNormalStrength(material as MeshStandardMaterial, look.normalStrength);
      }
      this.showEdges();
    }
    this.draw();
  }

  /** Turns the light about the viewer, by degrees. */
  turnLight(azimuth: number, elevation: number): void {
    this.azimuth = (this.azimuth + azimuth) % 360;
    this.elevation = Math.max(-89, Math.min(89, this.elevation + elevation));
    this.draw();
  }

  /** While a brush is at work, dragging does not turn the view. */
  setTurning(on: boolean): void {
    this.controls.enableRotate = on;
  }

  /** Draws with the next frame, once for however many changes. */
  draw(): void {
    this.pending ||= requestAnimationFrame(() => {
      this.pending = 0;
      this.applyLight();
      if (this.hasNewShaders) void this.compile();
      if (this.isCompiling || this.sendsTexture()) return;
      this.renderer.render(this.scene, this.camera);
      for (const material of this.retired.splice(0)) material.dispose();
    });
  }

  /**
   * Sends one of the textures that are to be sent whole, a frame for each: the page would wait for the graphics card to
   * take several. @returns false where none or only one is left, which goes with the next picture
   */
  private sendsTexture(): boolean {
    const unsent = [...this.textures()].filter(
      (texture) => texture.updateRanges.length === 0 && this.sent.get(texture) !== texture.version,
    );
    const [first] = unsent;
    if (!first) return false;
    this.sent.set(first, first.version);
    if (unsent.length === 1) return false;
    this.renderer.initTexture(first);
    this.draw();
    return true;
  }

  /** Those that are looked at. */
  private *textures(): Iterable<DataTexture> {
    const { shading, alone } = this.look;
    for (const { maps } of this.bodies.flatMap(({ parts }) => parts)) {
      for (const [kind, texture] of maps) {
        if ((shading !== 'map' || kind === alone) && texture instanceof DataTexture) yield texture;
      }
    }
  }

  /** Shaders are compiled beside the page; what was drawn before is seen meanwhile, for so long at most. */
  private async compile(): Promise<void> {
    const mine = ++this.compiles;
    this.hasNewShaders = false;
    this.isCompiling = true;
    const compiled = this.renderer.compileAsync(this.scene, this.camera).catch(() => {});
    await Promise.race([compiled, new Promise((resolve) => setTimeout(resolve, MOST_COMPILE_MS))]);
    // Others may have come meanwhile.
    if (mine !== this.compiles || this.isClosed) return;
    this.isCompiling = false;
    this.draw();
  }

  close(): void {
    this.isClosed = true;
    cancelAnimationFrame(this.pending);
    this.clear();
    for (const material of this.retired) material.dispose();
    this.light?.texture.dispose();
    this.checker.dispose();
    this.controls.dispose();
    this.renderer.dispose();
  }

  private *materials(): Iterable<Material> {
    for (const { mesh } of this.shown) yield* mesh.material as Material[];
  }

  private clear(): void {
    for (const { mesh, edges } of this.shown) {
      this.scene.remove(mesh);
      this.retired.push(...(mesh.material as Material[]));
      edges?.geometry.dispose();
    }
    this.shown = [];
  }

  private build(): void {
    this.clear();
    this.shown = this.bodies.map((body) => {
      const { geometry, parts, at = [0, 0, 0], scale = 1 } = body;
      geometry.clearGroups();
      const materials = parts.map(({ from, count }, i) => {
        geometry.addGroup(from, count, i);
        return this.materialOf(body, i);
      });
      const mesh = new Mesh(geometry, materials);
      mesh.position.set(...at);
      mesh.scale.setScalar(scale);
      mesh.frustumCulled = false;
      this.scene.add(mesh);
      return { mesh, edges: null };
    });
    this.hasNewShaders = true;
    this.showEdges();
    this.draw();
  }

  private materialOf(body: Body, i: number): Material {
    const { shading, alone, normalStrength } = this.look;
    const { maps, normals = GLTF_NORMAL } = body.parts[i]!;
    if (shading === 'map' && body.hasUvs) {
      const map = alone ? (maps.get(alone) ?? null) : null;
      return new MeshBasicMaterial({ map, color: map ? '#ffffff' : '#4d4d4d', toneMapped: false });
    }
    const isChecked = shading === 'checker' && body.hasUvs;
    const worn: MapTextures = isChecked ? new Map([['basecolor', this.checker]]) : body.hasUvs ? maps : new Map();
    const material = viewMaterial(worn, { normals, normalStrength }, body.geometry);
    if (!isChecked) body.adjust?.(material);
    return material;
  }

  /** Edges are made when they are first wanted: those of a dense mesh take a while. */
  private showEdges(): void {
    for (const shown of this.shown) {
      if (this.look.wireframe && !shown.edges) {
        const material = new LineBasicMaterial({
          color: 0x111111,
          transparent: true,
          opacity: 0.55,
          toneMapped: false,
        });
        shown.edges = new LineSegments(new WireframeGeometry(shown.mesh.geometry), material);
        shown.mesh.add(shown.edges);
        this.hasNewShaders = true;
      }
      if (shown.edges) shown.edges.visible = this.look.wireframe;
    }
  }

  private readonly beginLight = (event: PointerEvent): void => {
    if (event.button !== 2) return;
    const move = ({ movementX, movementY }: PointerEvent): void => this.turnLight(movementX * 0.5, -movementY * 0.5);
    this.canvas.setPointerCapture(event.pointerId);
    this.canvas.addEventListener('pointermove', move);
    this.canvas.addEventListener('pointerup', () => this.canvas.removeEventListener('pointermove', move), {
      once: true,
    });
  };

  /** The light's angles are those of the viewer: turned to the right it comes from the right of the screen. */
  private applyLight(): void {
    const { environment, exposure } = this.look;
    if (this.light?.of !== environment) {
      this.light?.texture.dispose();
      this.light = { of: environment, texture: environmentLight(this.renderer, environment) };
      this.scene.environment = this.light.texture;
      this.lamp.intensity = environment === 'uniform' ? 0 : 2;
    }
    this.renderer.toneMappingExposure = 2 ** exposure;
    const [a, e] = [(this.azimuth * Math.PI) / 180, (this.elevation * Math.PI) / 180];
    const towards = new Vector3(Math.sin(a) * Math.cos(e), Math.sin(e), Math.cos(a) * Math.cos(e));
    towards.transformDirection(this.camera.matrixWorld);
    this.lamp.position.copy(this.controls.target).add(towards);
    this.lamp.target.position.copy(this.controls.target);
    // The room turns with the lamp about the upright axis.
    this.scene.environmentRotation.set(0, Math.atan2(towards.x, towards.z) - (40 * Math.PI) / 180, 0);
  }
}
