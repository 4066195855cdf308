import type { z } from 'zod';
import type { MapKind } from '@zographos/core/image';

/** What an operation needs to know of an input mesh to estimate its cost. */
export interface MeshFacts {
  name: string;
  triangles: number;
  vertices: number;
}

export interface OperationInputs<T> {
  /** The meshes that carry the maps; they share a layout, which is named after the first. None for flat material. */
  receivers: T[];
  sources: T[];
  /** The receiver pushed outwards by hand, from which rays start. */
  cage?: T | undefined;
  /** A picture over the receiver's layout: where it is white, rays follow the mesh's own normals. */
  mask?: T | undefined;
  /** Pictures that lie on the sources, or that flat material is made of. */
  pictures?: T[] | undefined;
}

/** All inputs that are meshes, the receivers first. */
export const meshInputs = <T>({ receivers, sources, cage }: OperationInputs<T>): T[] => [
  ...receivers,
  ...sources,
  ...(cage === undefined ? [] : [cage]),
];

/** All inputs, meshes and pictures. */
export const inputList = <T>(inputs: OperationInputs<T>): T[] => [
  ...meshInputs(inputs),
  ...(inputs.mask === undefined ? [] : [inputs.mask]),
  ...(inputs.pictures ?? []),
];

/** The same inputs as something else. */
export async function eachInput<T, U>(
  { receivers, sources, cage, mask, pictures }: OperationInputs<T>,
  of: (input: T) => U | Promise<U>,
): Promise<OperationInputs<U>> {
  return {
    receivers: await Promise.all(receivers.map(of)),
    sources: await Promise.all(sources.map(of)),
    ...(cage === undefined ? {} : { cage: await of(cage) }),
    ...(mask === undefined ? {} : { mask: await of(mask) }),
    ...(pictures === undefined ? {} : { pictures: await Promise.all(pictures.map(of)) }),
  };
}

export interface Estimate {
  rays: number;
  memoryBytes: number;
}

/** A piece of the sentence an operation reads as: plain words, or a slot that names one setting. */
export interface SentencePart {
  text: string;
  slot?: string;
}

/**
 * One thing Zographos can do. The definition is free of any platform, so that the studio, the server and the
 * command line share it; how it runs is registered beside it.
 */
export interface Operation<Settings> {
  kind: string;
  /** Raised whenever the same settings would give other bytes; part of every run's key. */
  version: number;
  settings: z.ZodType<Settings>;
  /** The maps that a run with these settings makes. */
  outputs(settings: Settings): MapKind[];
  /** Whether the result depends on the names of the inputs beside their content. */
  goesByName(settings: Settings): boolean;
  estimate(settings: Settings, inputs: OperationInputs<MeshFacts>): Estimate;
  sentence(settings: Settings, names: OperationInputs<string>, unit: string): SentencePart[];
}
