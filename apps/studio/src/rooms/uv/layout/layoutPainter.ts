import { nextCorner } from '@zographos/core/mesh';
import type { UvMatrix } from '@zographos/core/uv';
import { tokenRgb } from '../../../theme/rgbOf.ts';
import type { LaidMeshes } from './layoutWorker.ts';
import { FILL_FRAGMENT, FILL_VERTEX, LINE_FRAGMENT, LINE_VERTEX } from './layoutShaders.ts';

/** Where one looks: the place in the middle of the view, and pixels for the height of a tile. */
export interface LayoutEye {
  u: number;
  v: number;
  scale: number;
}

/** What is to be seen of an island, as bits. */
export const MARK = { chosen: 1, locked: 2, shared: 4, hovered: 8 } as const;

/** What islands are coloured by: nothing but what is wrong, or a heat from −1 to 1. */
export interface Heat {
  /** For each triangle. */
  values: Float32Array;
  heated: boolean;
}

const STILL: UvMatrix = [1, 0, 0, 1, 0, 0];
const MARKS_WIDTH = 1024;

/** Draws layouts of a million triangles while they are moved about, on the graphics card. */
export class LayoutPainter {
  private readonly gl: WebGL2RenderingContext;
  private readonly fill: WebGLProgram;
  private readonly line: WebGLProgram;
  private readonly marks: WebGLTexture;
  private readonly buffers = new Map<string, WebGLBuffer>();
  private triangles = 0;
  private borders = 0;
  private layout: LaidMeshes | null = null;
  private heated = false;
  private edgesOf: LaidMeshes | null = null;
  showEdges = false;

  /** @throws Error where the browser has no WebGL 2 */
  constructor(canvas: HTMLCanvasElement) {
    const gl = canvas.getContext('webgl2', { antialias: true, alpha: false });
    if (!gl) throw new Error('This browser draws no layouts: it lacks WebGL 2. Use a current one.');
    this.gl = gl;
    this.fill = program(gl, FILL_VERTEX, FILL_FRAGMENT);
    this.line = program(gl, LINE_VERTEX, LINE_FRAGMENT);
    this.marks = gl.createTexture();
    gl.enable(gl.BLEND);
    gl.blendFunc(gl.SRC_ALPHA, gl.ONE_MINUS_SRC_ALPHA);
  }

  setLayout(layout: LaidMeshes): void {
    const { corners, islandOf, borders } = layout;
    this.triangles = islandOf.length;
    this.borders = borders.length;
    this.layout = layout;
    const islands = new Uint32Array(islandOf.length * 3);
    for (let i = 0; i < islands.length; i++) islands[i] = islandOf[Math.floor(i / 3)]!;
    const ends = new Float32Array(borders.length * 4);
    const owners = new Uint32Array(borders.length * 2);
    borders.forEach((corner, i) => {
      const next = nextCorner(corner);
      ends.set([corners[corner * 2]!, corners[corner * 2 + 1]!, corners[next * 2]!, corners[next * 2 + 1]!], i * 4);
      owners.fill(islandOf[Math.floor(corner / 3)]!, i * 2, i * 2 + 2);
    });
    this.upload('corners', corners);
    this.upload('islands', islands);
    this.upload('ends', ends);
    this.upload('owners', owners);
    this.setHeat(null);
    this.setMarks(new Uint8Array(layout.boxes.length / 4));
  }

  setHeat(heat: Heat | null): void {
    const spread = new Float32Array(this.triangles * 3);
    if (heat) for (let i = 0; i < spread.length; i++) spread[i] = heat.values[Math.floor(i / 3)]!;
    this.upload('values', spread);
    this.heated = heat?.heated ?? false;
  }

  /** @param marks for each island, bits of `MARK` */
  setMarks(marks: Uint8Array): void {
    const { gl } = this;
    const rows = Math.max(1, Math.ceil(marks.length / MARKS_WIDTH));
    const padded = new Uint8Array(rows * MARKS_WIDTH);
    padded.set(marks);
    gl.bindTexture(gl.TEXTURE_2D, this.marks);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.NEAREST);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAG_FILTER, gl.NEAREST);
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.R8UI, MARKS_WIDTH, rows, 0, gl.RED_INTEGER, gl.UNSIGNED_BYTE, padded);
  }

  /**
   * @param width of the view in device pixels
   * @param ratio device pixels for each CSS pixel
   * @param aspect width over height of the map
   * @param moved where chosen islands are dragged to
   */
  paint(eye: LayoutEye, width: number, height: number, ratio: number, aspect: number, moved: UvMatrix = STILL): void {
    const { gl } = this;
    gl.viewport(0, 0, width, height);
    gl.clearColor(...tokenRgb('--surround'), 1);
    gl.clear(gl.COLOR_BUFFER_BIT);
    if (!this.layout) return;
    const place = (of: WebGLProgram): void => {
      gl.useProgram(of);
      gl.uniform2f(gl.getUniformLocation(of, 'eye'), eye.u, eye.v);
      const side = 2 * eye.scale * ratio;
      gl.uniform2f(gl.getUniformLocation(of, 'scale'), (side * aspect) / width, side / height);
      gl.uniformMatrix3x2fv(gl.getUniformLocation(of, 'moved'), false, moved);
      gl.uniform1i(gl.getUniformLocation(of, 'marks'), 0);
      gl.uniform3f(gl.getUniformLocation(of, 'chosen'), ...tokenRgb('--azurite'));
    };
    gl.activeTexture(gl.TEXTURE0);
    gl.bindTexture(gl.TEXTURE_2D, this.marks);
    place(this.fill);
    gl.uniform3f(gl.getUniformLocation(this.fill, 'plain'), ...tokenRgb('--paper'));
    gl.uniform3f(gl.getUniformLocation(this.fill, 'middle'), 0.9, 0.9, 0.9);
    gl.uniform3f(gl.getUniformLocation(this.fill, 'cold'), ...COLD);
    gl.uniform3f(gl.getUniformLocation(this.fill, 'hot'), ...HOT);
    gl.uniform1i(gl.getUniformLocation(this.fill, 'heated'), this.heated ? 1 : 0);
    this.attribute(this.fill, 'uv', 'corners', 2);
    this.attribute(this.fill, 'island', 'islands', 1, true);
    this.attribute(this.fill, 'value', 'values', 1);
    gl.drawArrays(gl.TRIANGLES, 0, this.triangles * 3);
    place(this.line);
    if (this.showEdges) this.paintEdges();
    gl.uniform4f(gl.getUniformLocation(this.line, 'ink'), ...tokenRgb('--ink'), 1);
    this.attribute(this.line, 'uv', 'ends', 2);
    this.attribute(this.line, 'island', 'owners', 1, true);
    gl.drawArrays(gl.LINES, 0, this.borders * 2);
  }

  /** Edges within islands; their numbers are made when they are first wanted. */
  private paintEdges(): void {
    const { gl } = this;
    if (this.edgesOf !== this.layout) {
      const numbers = new Uint32Array(this.triangles * 6);
      for (let i = 0; i < this.triangles * 3; i++) {
        numbers[i * 2] = i;
        numbers[i * 2 + 1] = nextCorner(i);
      }
      const buffer = this.buffers.get('edges') ?? gl.createBuffer();
      this.buffers.set('edges', buffer);
      gl.bindBuffer(gl.ELEMENT_ARRAY_BUFFER, buffer);
      gl.bufferData(gl.ELEMENT_ARRAY_BUFFER, numbers, gl.STATIC_DRAW);
      this.edgesOf = this.layout;
    }
    gl.uniform4f(gl.getUniformLocation(this.line, 'ink'), ...tokenRgb('--ink'), 0.28);
    this.attribute(this.line, 'uv', 'corners', 2);
    this.attribute(this.line, 'island', 'islands', 1, true);
    gl.bindBuffer(gl.ELEMENT_ARRAY_BUFFER, this.buffers.get('edges')!);
    gl.drawElements(gl.LINES, this.triangles * 6, gl.UNSIGNED_INT, 0);
  }

  private upload(name: string, data: Float32Array | Uint32Array): void {
    const { gl } = this;
    const buffer = this.buffers.get(name) ?? gl.createBuffer();
    this.buffers.set(name, buffer);
    gl.bindBuffer(gl.ARRAY_BUFFER, buffer);
    gl.bufferData(gl.ARRAY_BUFFER, data, gl.STATIC_DRAW);
  }

  private attribute(of: WebGLProgram, name: string, buffer: string, width: number, whole = false): void {
    const { gl } = this;
    const at = gl.getAttribLocation(of, name);
    gl.bindBuffer(gl.ARRAY_BUFFER, this.buffers.get(buffer)!);
    gl.enableVertexAttribArray(at);
    if (whole) gl.vertexAttribIPointer(at, width, gl.UNSIGNED_INT, 0, 0);
    else gl.vertexAttribPointer(at, width, gl.FLOAT, false, 0, 0);
  }

  close(): void {
    const { gl } = this;
    for (const buffer of this.buffers.values()) gl.deleteBuffer(buffer);
    gl.deleteTexture(this.marks);
    gl.deleteProgram(this.fill);
    gl.deleteProgram(this.line);
  }
}

/** Ends of the heat, as sRGB; the legend and the model show the same. */
export const COLD = [0.16, 0.36, 0.7] as const;
export const HOT = [0.78, 0.2, 0.12] as const;

function program(gl: WebGL2RenderingContext, vertex: string, fragment: string): WebGLProgram {
  const made = gl.createProgram();
  for (const [kind, source] of [
    [gl.VERTEX_SHADER, vertex],
    [gl.FRAGMENT_SHADER, fragment],
  ] as const) {
    const shader = gl.createShader(kind)!;
    gl.shaderSource(shader, source);
    gl.compileShader(shader);
    gl.attachShader(made, shader);
  }
  gl.linkProgram(made);
  if (!gl.getProgramParameter(made, gl.LINK_STATUS)) throw new Error(gl.getProgramInfoLog(made) ?? 'A shader failed.');
  return made;
}
