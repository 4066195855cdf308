import type { Size } from '@zographos/core/math';
import type { z } from 'zod';
import type { MapKind } from '@zographos/core/image';
import type { Mesh } from '@zographos/core/mesh';
import type { Run } from './runContext.ts';

/** What an operation needs to know of an input mesh to estimate its cost. */
export interface MeshFacts {
  name: string;
  triangles: number;
  vertices: number;
  /** The UDIM tiles that each UV set has islands in; left out where that is not known. */
  uvTiles?: readonly (readonly number[])[];
}

/** What an estimate needs to know of a mesh that is held. */
export const factsOf = ({ name, indices, positions }: Pick<Mesh, 'name' | 'indices' | 'positions'>): MeshFacts => ({
  ...{ name, triangles: indices.length / 3, vertices: positions.length / 3 },
});

/** The inputs of an operation, each as whatever stands for it: an id, a name, its content. */
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
export const mapInputs = <T, U>(
  { receivers, sources, cage, mask, pictures }: OperationInputs<T>,
  of: (input: T) => U,
): OperationInputs<U> => ({
  receivers: receivers.map(of),
  sources: sources.map(of),
  ...(cage === undefined ? {} : { cage: of(cage) }),
  ...(mask === undefined ? {} : { mask: of(mask) }),
  ...(pictures === undefined ? {} : { pictures: pictures.map(of) }),
});

/** The same inputs as something else that takes time to make; what is there twice is made once. */
export async function eachInput<T, U>(
  inputs: OperationInputs<T>,
  of: (input: T) => U | Promise<U>,
): Promise<OperationInputs<U>> {
  const made = new Map<T, U>();
  await Promise.all([...new Set(inputList(inputs))].map(async (input) => made.set(input, await of(input))));
  return mapInputs(inputs, (input) => made.get(input)!);
}

export interface Estimate {
  rays: number;
  memoryBytes: number;
}

/** A piece of the sentence an operation reads as: plain words, or a slot that names what it edits. */
export interface SentencePart {
  text: string;
  slot?: string;
}

/** A sentence without its slots. @example sentenceText(operation.sentence(settings, names, 'mm')) */
export const sentenceText = (parts: readonly SentencePart[]): string => parts.map(({ text }) => text).join('');

/** What the inputs are called in a sentence. */
export interface SentenceNames extends OperationInputs<string> {
  /** The UV sets of the first receiver. */
  uvSets?: readonly string[];
  /** How large each picture is, in texels; null for one that is not there. */
  pictureSizes?: readonly (Size | null)[];
}

/**
 * How an operation is kept: as a ticket that makes the maps of a mesh, as one that makes flat material, as one that lays
 * layers on an image set of either kind, as one that shows meshes in light, in an image set of its own, or not at all,
 * because it is done once.
 */
export type Ticket = 'mesh' | 'flat' | 'set' | 'lit' | null;

/**
 * One thing Zographos can do. The definition is free of any platform, so that the studio, the server and the command
 * line share it; how it runs is loaded only where it is run.
 */
export interface Operation<Kind extends string, Settings, Report, Kept extends Ticket = Ticket> {
  kind: Kind;
  /** Raised whenever the same settings would give other bytes; part of every run's key. */
  version: number;
  ticket: Kept;
  settings: z.ZodType<Settings>;
  /** The measured outcome of a run, as it is kept with it. */
  report: z.ZodType<Report>;
  /** The maps that a run with these settings makes. */
  outputs(settings: Settings): MapKind[];
  /**
   * The settings as they are for these inputs: what says the same of them in two ways is said in one, so that results
   * have one name.
   */
  resolve(settings: Settings, inputs: OperationInputs<Pick<MeshFacts, 'uvTiles'>>): Settings;
  /** Whether the result depends on the names of the inputs beside their content. */
  goesByName(settings: Settings): boolean;
  estimate(settings: Settings, inputs: OperationInputs<MeshFacts>): Estimate;
  /** What is usually said. */
  sentence(settings: Settings, names: SentenceNames, unit: string): SentencePart[];
  /** Further sentences, for what is seldom changed. */
  moreSentences(settings: Settings, names: SentenceNames, unit: string): SentencePart[][];
  /** Loads how it runs, which needs Node. */
  load(): Promise<{ run: Run<Settings, Report> }>;
}

/** Defines an operation; what is left out has a default that says nothing. */
export function defineOperation<const Kind extends string, Settings, Report, const Kept extends Ticket>(
  definition: Omit<Operation<Kind, Settings, Report, Kept>, 'moreSentences' | 'goesByName' | 'resolve'> &
    Partial<Pick<Operation<Kind, Settings, Report, Kept>, 'moreSentences' | 'goesByName' | 'resolve'>>,
): Operation<Kind, Settings, Report, Kept> {
  return { moreSentences: () => [], goesByName: () => false, resolve: (settings) => settings, ...definition };
}
