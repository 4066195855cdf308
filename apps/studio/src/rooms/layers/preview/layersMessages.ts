import type { Image } from '@zographos/core/image';
import type { Layer, LayerChannel, Stratum } from '@zographos/core/layers';
import type { Size } from '@zographos/core/math';
import type { LayersSettings, StrokeRecord } from '@zographos/operations';
import type { Patch } from './penPatches.ts';

/** What the preview of a stack is asked for, and what it tells. */

/** What layers lie on: packed meshes by their addresses, or a flat tile. */
export interface PreviewSurface {
  urls: string[];
  uvSet: number;
  /** Millimetres of one unit of the meshes. */
  unit: number;
  /** Width and height in millimetres, where there is no mesh. */
  flat: [number, number];
}

/** Places of a section: the triangle of each among all triangles of the meshes, and where it is in space. */
export interface SectionLine {
  triangles: Uint32Array;
  /** In the unit of the meshes. */
  points: Float32Array;
}

export interface HistogramOf {
  layer: string;
  of: 'beneath' | 'mask';
}

export interface LayersAsk {
  what: 'show';
  turn: number;
  surface: PreviewSurface;
  settings: Pick<LayersSettings, 'layers' | 'materials' | 'measured' | 'mixing' | 'unit' | 'size' | 'tiles'>;
  /** The images of the ticket: their ids, and what names their content; empty for one that is not there. */
  pictures: [id: string, content: string][];
  side: number;
  /** The stroke under the pen, which is not kept yet: layers name it `UNDER_PEN`. */
  pen: StrokeRecord | null;
  /** The layer whose mask is shown, if one is. */
  maskOf: string | null;
  /** The layer of which it is told how often values occur: in what lies beneath it, or in the steps of its mask. */
  histogramOf: HistogramOf | null;
  section: SectionLine | null;
}

/** The stroke under the pen has become longer. */
export interface PenAsk {
  what: 'pen';
  /** Of what it was begun on. */
  turn: number;
  pen: StrokeRecord;
}

/** How the model would look with each of some layers on top of what there is. */
export interface OffersAsk {
  what: 'offers';
  /** With the materials and the images of what is offered. */
  on: LayersAsk;
  /** Images of layers lie on the middle of what is seen. */
  offers: { name: string; layer: Layer }[];
  /** Images that are not kept anywhere, by their numbers among those of the stack. */
  images: (readonly [number: number, image: Image])[];
}

/** Which triangle lies at a place of a tile, 0 to 1, v upwards; and what else is told with the answer. */
export interface TriangleAsk {
  what: 'triangle';
  tile: number;
  u: number;
  v: number;
  add: boolean;
  /** Of a pen, 0 to 1; null for a click. */
  pressure: number | null;
}

/** What else is known of a triangle that was clicked on the model. */
export interface FactsAsk {
  what: 'facts';
  found: Omit<FoundPlace, 'facts'>;
}

/** The faces that hang together with one that was clicked. */
export interface FacesAsk {
  what: 'faces';
  triangle: number;
  /** The steepest edge that is gone over, in degrees. */
  angle: number;
}

/** More of the faces that are picked: those that touch them. */
export interface GrowAsk {
  what: 'grow';
  ranges: readonly (readonly [number, number])[];
}

/** The faces within a polygon of the view, or of a tile's map. */
export interface LassoAsk {
  what: 'lasso';
  /** x and y of each corner, 0 to 1, from the upper left. */
  polygon: number[];
  /** How the model is seen, as `facesInView` takes it; or the tile whose map is looked at. */
  on: { view: number[] } | { tile: number };
}

/** What masks can go by at a place. */
export interface PlaceFacts {
  slot: string;
  object: string;
  tile: number;
  /** Of the ID map there, if the set has one. */
  idColor: string | null;
}

/** Sent back as it is, once what was asked before is told. */
export interface LayersDone {
  what: 'done';
}

/** A map as it looks on screen. */
export interface LayeredPicture extends Size {
  kind: LayerChannel;
  rgba: Uint8ClampedArray<ArrayBuffer>;
  /** How often parts of it were exchanged, and those that were last. */
  version?: number;
  changed?: readonly Omit<Patch, 'maps'>[];
}

/** A place of the surface that was found in the map: in millimetres, with the normal there. */
export interface FoundPlace {
  triangle: number;
  add: boolean;
  pressure: number | null;
  place: [number, number, number];
  normal: [number, number, number];
  /** Of clicks alone. */
  facts?: PlaceFacts;
}

export type LayersTold =
  | {
      what: 'composed';
      turn: number;
      tiles: { tile: number; texel: number; maps: LayeredPicture[]; mask: LayeredPicture | null }[];
      /** Layers that are left out, and why. */
      problems: { id: string; message: string }[];
      /** Pairs of triangles that share texels, so that what is painted on one appears on the other. */
      overlaps: number;
      milliseconds: number;
    }
  | ({ what: 'triangle' } & FoundPlace)
  | LayersDone
  /** The faces of the mesh that are picked now, and how many it has. */
  | { what: 'faces'; ranges: [number, number][]; of: number }
  /** Parts that are another under the pen; null where all has to be composed again. */
  | { what: 'patched'; turn: number; tiles: { tile: number; patches: Patch[] }[] | null; milliseconds: number }
  /** The picture of one offer, as wide as high. */
  | { what: 'offer'; name: string; side: number; rgba: Uint8ClampedArray<ArrayBuffer> }
  | { what: 'histogram'; turn: number; bins: number[] }
  | { what: 'section'; turn: number; strata: Stratum[] }
  | { what: 'failed'; turn: number; message: string };

/** Everything that can be asked for. */
export type LayersMessage =
  LayersAsk | TriangleAsk | LayersDone | PenAsk | OffersAsk | FactsAsk | GrowAsk | FacesAsk | LassoAsk;
