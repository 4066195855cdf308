import {
  BufferAttribute,
  BufferGeometry,
  Color,
  GLSL3,
  LineBasicMaterial,
  LineSegments,
  LinearFilter,
  LinearMipmapLinearFilter,
  Mesh,
  PerspectiveCamera,
  Raycaster,
  Scene,
  ShaderMaterial,
  Texture,
  Vector2,
  Vector3,
  WebGLRenderer,
  WireframeGeometry,
} from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import type { Geometry } from './geometryWorker.ts';
import { placeMarker, SeamHeat, Shell } from './overlays.ts';
import { rgbOf } from '../theme/rgbOf.ts';
import { FRAGMENT_SHADER, VERTEX_SHADER } from './shaders.ts';
import { WORN, type WornPictures } from './wornMaps.ts';

export const LOOKS = ['lit', 'map alone', 'checker'] as const;
export type Look = (typeof LOOKS)[number];

export interface NormalReading {
  space: 'tangent' | 'object';
  y: 'up' | 'down';
}

/** One mesh on screen with a material for each of its tiles; its edges are made when they are first wanted. */
interface Body {
  mesh: Mesh;
  materials: ShaderMaterial[];
  tiles: number[];
  edges: LineSegments | null;
}

/** A place that is pointed out on the model. */
export type Place = readonly [number, number, number];

type Part = 'receiver' | 'source';

/**
 * The three-dimensional view: draws only when something has changed. Dragging turns the model, dragging with
 * the right button turns the light.
 */
export class ModelScene {
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly camera = new PerspectiveCamera(30, 1, 0.01, 100);
  private readonly controls: OrbitControls;
  private readonly bodies: Record<Part, Body | null> = { receiver: null, source: null };
  private readonly canvas: HTMLCanvasElement;
  private shown: Part = 'receiver';
  private look: Look = 'lit';
  private withEdges = false;
  private azimuth = 40;
  private elevation = 35;
  private textures: Texture[] = [];
  private prepared: Geometry | null = null;
  private readonly shell = new Shell();
  private readonly heat = new SeamHeat();
  private readonly marker = placeMarker();
  private readonly raycaster = new Raycaster();
  private pending = 0;

  constructor(canvas: HTMLCanvasElement) {
    this.canvas = canvas;
    this.renderer = new WebGLRenderer({ canvas, antialias: true, powerPreference: 'high-performance' });
    this.renderer.setPixelRatio(Math.min(2, window.devicePixelRatio));
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.enablePan = false;
    this.controls.addEventListener('change', () => this.draw());
    canvas.addEventListener('pointerdown', this.beginLight);
    canvas.addEventListener('contextmenu', (event) => event.preventDefault());
    this.scene.add(this.shell.group, this.heat.points, this.marker);
  }

  setSurround(color: string): void {
    const [r, g, b] = rgbOf(color);
    this.scene.background = new Color().setRGB(r, g, b, 'srgb');
    this.draw();
  }

  resize(width: number, height: number): void {
    this.renderer.setSize(width, height, false);
    this.camera.aspect = width / height;
    this.camera.updateProjectionMatrix();
    this.draw();
  }

  /** Puts a mesh on stage; the first one also sets where the eye stands. */
  setBody(part: Part, prepared: Geometry | null): void {
    this.removeBody(part);
    if (!prepared) return;
    const geometry = new BufferGeometry();
    const { positions, normals, uvs, tangents, indices } = prepared;
    const corners = positions.length / 3;
    geometry.setAttribute('position', new BufferAttribute(positions, 3));
    geometry.setAttribute('normal', new BufferAttribute(normals, 3));
    geometry.setAttribute('uv', new BufferAttribute(uvs ?? new Float32Array(corners * 2), 2));
    geometry.setAttribute('tint', new BufferAttribute(new Uint8Array(corners * 4), 4, true));
    geometry.setAttribute('tangent', new BufferAttribute(tangents ?? new Float32Array(corners * 4), 4));
    if (indices) geometry.setIndex(new BufferAttribute(indices, 1));
    const materials = prepared.tiles.map(({ from, count }, i) => {
      geometry.addGroup(from, count, i);
      return bodyMaterial();
    });
    const mesh = new Mesh(geometry, materials);
    mesh.frustumCulled = false;
    this.bodies[part] = { mesh, materials, tiles: prepared.tiles.map(({ tile }) => tile), edges: null };
    this.scene.add(mesh);
    if (part === 'receiver') {
      this.prepared = prepared;
      this.shell.clear();
      this.marker.scale.setScalar(prepared.radius * 0.02);
    }
    if (part === 'receiver') this.frame(prepared);
    this.apply();
  }

  private removeBody(part: Part): void {
    const body = this.bodies[part];
    if (!body) return;
    this.scene.remove(body.mesh);
    body.mesh.geometry.dispose();
    for (const material of body.materials) material.dispose();
    body.edges?.geometry.dispose();
    this.bodies[part] = null;
  }

  /** Moves the eye so that a sphere around the mesh fills the view. */
  private frame({ centre, radius }: Geometry): void {
    const distance = (radius * 0.92) / Math.sin((this.camera.fov / 2) * (Math.PI / 180));
    this.controls.target.set(...centre);
    this.camera.position.set(centre[0] + distance * 0.5, centre[1] + distance * 0.32, centre[2] + distance * 0.8);
    this.camera.near = radius / 100;
    this.camera.far = distance + radius * 20;
    this.controls.minDistance = radius * 0.1;
    this.controls.maxDistance = radius * 15;
    this.camera.updateProjectionMatrix();
    this.controls.update();
  }

  /** Puts maps on the receiver, tile by tile: what it is lit with, and the one that is shown alone. */
  setMaps(pictures: ReadonlyMap<number, WornPictures>, reading: NormalReading): void {
    for (const texture of this.textures) texture.dispose();
    this.textures = [];
    const body = this.bodies.receiver;
    body?.materials.forEach(({ uniforms }, i) => {
      const worn = pictures.get(body.tiles[i]!);
      for (const kind of WORN) {
        const texture = textureOf(worn?.[kind] ?? null);
        if (texture) this.textures.push(texture);
        uniforms[`${kind}Map`]!.value = texture;
        uniforms[`${kind}Worn`]!.value = texture !== null;
      }
      uniforms['objectSpace']!.value = reading.space === 'object';
      uniforms['green']!.value = reading.y === 'up' ? 1 : -1;
    });
    this.draw();
  }

  /**
   * Lays colours over the receiver.
   * @param colors linear r, g, b and how much they count, 0 to 255, for each of its triangles; or null for none
   */
  setTint(colors: Uint8Array | null): void {
    const body = this.bodies.receiver;
    const triangles = this.prepared?.triangles;
    if (!body || !triangles) return;
    const tint = body.mesh.geometry.getAttribute('tint') as BufferAttribute;
    const words = new Uint32Array(tint.array.buffer, tint.array.byteOffset, tint.count);
    const from = colors && new Uint32Array(colors.buffer, colors.byteOffset, colors.length / 4);
    for (let i = 0; i < words.length; i++) words[i] = from ? from[triangles[Math.floor(i / 3)]!]! : 0;
    tint.needsUpdate = true;
    this.draw();
  }

  /**
   * Shows how far rays reach around the receiver.
   * @param reach mesh units for each vertex of the receivers together, or null for no shell
   */
  setShell(reach: { out: Float32Array; in: Float32Array } | null): void {
    if (this.prepared && reach) this.shell.set(this.prepared, reach);
    else this.shell.clear();
    this.draw();
  }

  /** Shows how much both sides of seams differ: x, y, z and the difference, again and again. */
  setHeat(places: readonly number[], worst: number): void {
    this.heat.set(places, worst);
    this.draw();
  }

  /** Points a place out and turns the view so that it can be seen from outside. */
  pointAt(place: Place | null): void {
    this.marker.visible = place !== null;
    if (place && this.prepared) {
      this.marker.position.set(...place);
      const { centre, radius } = this.prepared;
      const outward = new Vector3(place[0] - centre[0], place[1] - centre[1], place[2] - centre[2]);
      if (outward.length() < radius * 0.05) outward.subVectors(this.camera.position, this.controls.target);
      this.controls.target.set(...place);
      this.camera.position.copy(this.marker.position).addScaledVector(outward.normalize(), radius * 0.9);
      this.controls.update();
    }
    this.draw();
  }

  /** What of the receiver lies under a point of the view, 0 to 1 from the upper left; null beside it. */
  under(x: number, y: number): { place: Place; triangle: number } | null {
    const body = this.bodies.receiver;
    if (!body) return null;
    this.raycaster.setFromCamera(new Vector2(x * 2 - 1, 1 - y * 2), this.camera);
    const [hit] = this.raycaster.intersectObject(body.mesh, false);
    if (!hit) return null;
    const face = hit.faceIndex ?? 0;
    return { place: [hit.point.x, hit.point.y, hit.point.z], triangle: this.prepared?.triangles?.[face] ?? face };
  }

  /** While a brush is at work, dragging does not turn the model. */
  setTurning(on: boolean): void {
    this.controls.enableRotate = on;
  }

  show(part: Part): void {
    this.shown = part;
    this.apply();
  }

  setLook(look: Look): void {
    this.look = look;
    this.apply();
  }

  setEdges(on: boolean): void {
    this.withEdges = on;
    this.apply();
  }

  turnLight(azimuth: number, elevation: number): void {
    this.azimuth = (this.azimuth + azimuth) % 360;
    this.elevation = Math.max(-89, Math.min(89, this.elevation + elevation));
    this.apply();
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

  private apply(): void {
    for (const part of ['receiver', 'source'] as const) {
      const body = this.bodies[part];
      if (!body) continue;
      body.mesh.visible = part === this.shown;
      // A mesh without UVs has nothing to show but itself.
      const hasUvs = body.mesh.geometry.getIndex() === null;
      for (const { uniforms } of body.materials) uniforms['look']!.value = hasUvs ? LOOKS.indexOf(this.look) : 0;
      if (this.withEdges && !body.edges && body.mesh.visible) {
        const material = new LineBasicMaterial({ color: 0x111111, transparent: true, opacity: 0.55 });
        body.edges = new LineSegments(new WireframeGeometry(body.mesh.geometry), material);
        body.mesh.add(body.edges);
      }
      if (body.edges) body.edges.visible = this.withEdges;
    }
    this.draw();
  }

  /** Draws with the next frame, once for however many changes. */
  private draw(): void {
    this.pending ||= requestAnimationFrame(() => {
      this.pending = 0;
      this.aimLight();
      this.renderer.render(this.scene, this.camera);
    });
  }

  /** The light's angles are those of the viewer: turned to the right it comes from the right of the screen. */
  private aimLight(): void {
    const [a, e] = [(this.azimuth * Math.PI) / 180, (this.elevation * Math.PI) / 180];
    const light = new Vector3(Math.sin(a) * Math.cos(e), Math.sin(e), Math.cos(a) * Math.cos(e));
    light.transformDirection(this.camera.matrixWorld);
    for (const body of Object.values(this.bodies)) {
      for (const { uniforms } of body?.materials ?? []) (uniforms['light']!.value as Vector3).copy(light);
    }
  }

  close(): void {
    cancelAnimationFrame(this.pending);
    this.removeBody('receiver');
    this.removeBody('source');
    for (const texture of this.textures) texture.dispose();
    this.shell.clear();
    this.heat.set([], 1);
    this.controls.dispose();
    this.renderer.dispose();
  }
}

function bodyMaterial(): ShaderMaterial {
  return new ShaderMaterial({
    glslVersion: GLSL3,
    vertexShader: VERTEX_SHADER,
    fragmentShader: FRAGMENT_SHADER,
    uniforms: {
      ...Object.fromEntries(
        WORN.flatMap((kind): [string, { value: unknown }][] => [
          [`${kind}Map`, { value: null }],
          [`${kind}Worn`, { value: false }],
        ]),
      ),
      look: { value: 0 },
      objectSpace: { value: false },
      green: { value: 1 },
      light: { value: new Vector3() },
      albedo: { value: new Color(0.36, 0.355, 0.345) },
      roughness: { value: 0.42 },
      checks: { value: 32 },
    },
  });
}

function textureOf(picture: ImageBitmap | null): Texture | null {
  if (!picture) return null;
  const texture = new Texture(picture);
  texture.flipY = false;
  texture.magFilter = LinearFilter;
  texture.minFilter = LinearMipmapLinearFilter;
  texture.anisotropy = 4;
  texture.needsUpdate = true;
  return texture;
}
