import type { MapRevision } from '@zographos/contracts';
import type { ScreenView } from '@zographos/core/light';
import { lightPicture, missedPicture, tilePicture, type Channel } from './tilePicture.ts';
import { TILE, type Tile } from './tileStore.ts';
import { TileSum } from './tileSum.ts';

/** Where one looks: the texel in the middle of the view, and screen pixels for each texel. */
export interface Eye {
  x: number;
  y: number;
  scale: number;
}

/** Part of a map, in texels from its upper left corner. */
export interface Rectangle {
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface Texel {
  x: number;
  y: number;
  /** Stored samples, or null while the tile is on its way. */
  values: number[] | null;
  state: number | null;
}

const MAX_SCALE = 64;

/** Paints a stored map at any scale from its tiles, coarser ones standing in until the right ones are here. */
export class MapPainter {
  eye: Eye = { x: 0, y: 0, scale: 1 };
  channel: Channel = 'all';
  showMissed = false;
  /** A rectangle that is marked, in texels. */
  marked: Rectangle | null = null;
  /** A texel that is pointed out. */
  ringed: { x: number; y: number } | null = null;
  private readonly revision: MapRevision;
  /** How light is shown; null for maps that are no light. */
  screen: ScreenView | null = null;
  private readonly tiles: TileSum;
  private readonly pictures = new WeakMap<Tile, Map<string, OffscreenCanvas>>();

  /** @param added maps of the same size that are added to it, texel by texel: light to light */
  constructor(revision: MapRevision, onTile: () => void, added: readonly MapRevision[] = []) {
    this.revision = revision;
    this.tiles = new TileSum([revision, ...added], onTile);
  }

  /** Shows the whole map with a little room around it. */
  fit(width: number, height: number): void {
    const { width: w, height: h } = this.revision;
    this.eye = { x: w / 2, y: h / 2, scale: Math.min((width - 16) / w, (height - 16) / h) };
  }

  /** Changes the scale and keeps the texel under the given point of the view where it is. */
  zoom(factor: number, at: { x: number; y: number }, width: number, height: number): void {
    const { eye, revision } = this;
    const least = Math.min(1, (0.25 * Math.min(width, height)) / Math.max(revision.width, revision.height));
    const scale = Math.min(MAX_SCALE, Math.max(least, eye.scale * factor));
    const texel = this.toTexel(at, width, height);
    this.eye = { scale, x: texel.x - (at.x - width / 2) / scale, y: texel.y - (at.y - height / 2) / scale };
  }

  pan(dx: number, dy: number): void {
    const { eye, revision } = this;
    eye.x = Math.min(revision.width, Math.max(0, eye.x - dx / eye.scale));
    eye.y = Math.min(revision.height, Math.max(0, eye.y - dy / eye.scale));
  }

  toTexel(at: { x: number; y: number }, width: number, height: number): { x: number; y: number } {
    const { eye } = this;
    return { x: eye.x + (at.x - width / 2) / eye.scale, y: eye.y + (at.y - height / 2) / eye.scale };
  }

  /** What is stored in the texel under a point of the view; null outside the map. */
  read(at: { x: number; y: number }, width: number, height: number): Texel | null {
    const point = this.toTexel(at, width, height);
    const [x, y] = [Math.floor(point.x), Math.floor(point.y)];
    const { width: w, height: h, channels } = this.revision;
    if (x < 0 || y < 0 || x >= w || y >= h) return null;
    const [column, row] = [Math.floor(x / TILE), Math.floor(y / TILE)];
    const tile = this.tiles.get('map', 0, column, row);
    const plane = this.tiles.get('states', 0, column, row);
    const within = (y % TILE) * Math.min(TILE, w - column * TILE) + (x % TILE);
    return {
      x,
      y,
      values: tile ? Array.from({ length: channels }, (_, c) => tile.samples[within * channels + c]!) : null,
      state: plane ? plane.samples[within]! : null,
    };
  }

  /** @param ratio device pixels for each CSS pixel */
  paint(context: CanvasRenderingContext2D, width: number, height: number, ratio: number, surround: string): void {
    const { eye, revision } = this;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.fillStyle = surround;
    context.fillRect(0, 0, width, height);
    context.translate(width / 2, height / 2);
    context.scale(eye.scale, eye.scale);
    context.translate(-eye.x, -eye.y);
    context.imageSmoothingEnabled = eye.scale * ratio < 1;
    const wanted = Math.floor(Math.log2(1 / (eye.scale * ratio)));
    const level = Math.max(0, Math.min(revision.levels.length - 1, wanted));
    const coarsest = revision.levels.length - 1;
    this.paintLevel(context, 'map', coarsest, width, height);
    if (level !== coarsest) this.paintLevel(context, 'map', level, width, height);
    if (this.showMissed) this.paintLevel(context, 'states', level, width, height);
    if (this.marked) this.paintMarked(context, this.marked);
    if (this.ringed) this.paintRing(context, this.ringed);
  }

  private paintMarked(context: CanvasRenderingContext2D, { x, y, width, height }: Rectangle): void {
    const pixel = 1 / this.eye.scale;
    for (const [color, dash] of [
      ['#fff', []],
      ['#2d62b8', [6 * pixel, 4 * pixel]],
    ] as const) {
      context.strokeStyle = color;
      context.lineWidth = 2 * pixel;
      context.setLineDash([...dash]);
      context.strokeRect(x, y, width, height);
    }
    context.setLineDash([]);
  }

  private paintRing(context: CanvasRenderingContext2D, { x, y }: { x: number; y: number }): void {
    const pixel = 1 / this.eye.scale;
    for (const [color, line] of [
      ['#fff', 4],
      ['#c8321e', 2],
    ] as const) {
      context.beginPath();
      context.arc(x + 0.5, y + 0.5, 18 * pixel, 0, 2 * Math.PI);
      context.strokeStyle = color;
      context.lineWidth = line * pixel;
      context.stroke();
    }
  }

  private paintLevel(
    context: CanvasRenderingContext2D,
    plane: 'map' | 'states',
    level: number,
    width: number,
    height: number,
  ): void {
    const { columns, rows } = this.revision.levels[level]!;
    const span = TILE * 2 ** level;
    const from = this.toTexel({ x: 0, y: 0 }, width, height);
    const to = this.toTexel({ x: width, y: height }, width, height);
    for (let row = Math.max(0, Math.floor(from.y / span)); row <= Math.min(rows - 1, Math.floor(to.y / span)); row++) {
      for (
        let column = Math.max(0, Math.floor(from.x / span));
        column <= Math.min(columns - 1, Math.floor(to.x / span));
        column++
      ) {
        const tile = this.tiles.get(plane, level, column, row);
        if (!tile) continue;
        const scale = 2 ** level;
        context.drawImage(
          this.picture(tile, plane),
          column * span,
          row * span,
          tile.width * scale,
          tile.height * scale,
        );
      }
    }
  }

  private picture(tile: Tile, plane: 'map' | 'states'): OffscreenCanvas {
    const { screen } = this;
    const look = screen ? `${this.channel} ${screen.view} ${screen.exposure}` : this.channel;
    const key = plane === 'map' ? look : 'missed';
    const made = this.pictures.get(tile) ?? new Map<string, OffscreenCanvas>();
    this.pictures.set(tile, made);
    let picture = made.get(key);
    if (!picture) {
      if (plane === 'states') picture = missedPicture(tile);
      else if (screen) picture = lightPicture(tile, this.revision, this.channel, screen);
      else picture = tilePicture(tile, this.revision, this.channel);
      made.clear();
      made.set(key, picture);
    }
    return picture;
  }
}
