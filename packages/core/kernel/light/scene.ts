// What lights and is lit, as src/light/lightMemory.ts lays it into memory: a record of addresses and counts, in this order,
// and of numbers.

/** Where the parts of a material's record lie. */
/** Base colour, radiance, and logarithm of what a mesh unit of the body lets through: vectors. */
export const BASE: usize = 0;
export const RADIANCE: usize = 16;
export const ABSORPTION: usize = 32;
/** Floats. */
export const METALLIC: usize = 48;
export const ROUGHNESS: usize = 52;
export const SPECULAR: usize = 56;
export const TRANSMISSION: usize = 60;
export const IOR: usize = 64;
/** Probability density, by area, with which light sampling finds a place of it. */
export const DENSITY: usize = 68;
export const FLAGS: usize = 72;
export const GROUP: usize = 76;
/** How much of it is there, 0 to 1. */
export const OPACITY: usize = 80;
/** Address of the record of its pictures, which the kernel looks up; 0 for none. */
export const TEXTURE: usize = 84;

/** What it is made of, and what it sends, differs from place to place and is told for each path. */
export const VARIES: u32 = 1;
export const SENDS_VARYING: u32 = 2;
export const SENDS: u32 = 4;
export const ONE_SIDED: u32 = 8;
export const ABSORBS: u32 = 16;
/** Whether some of it is not there, and whether that differs from place to place and is told for each ray. */
export const HAS_HOLES: u32 = 32;
export const HOLES_VARY: u32 = 64;

export const SUN_BYTES: usize = 64;
export const POINT_BYTES: usize = 96;
/** Of an emissive triangle: its first corner, the edges to the others and its unit normal (vectors of floats), and its number. */
export const EMITTER_BYTES: usize = 64;

/** Of each vertex its place and u, its normal and v: eight floats. */
export let vertices: usize = 0;
/** Of each triangle where its vertices and its material lie, from the first on: four whole numbers. */
export let corners: usize = 0;
/** Tangent and sign of each corner, where a material has a normal picture. */
export let tangents: usize = 0;
let materials: usize = 0;
export let suns: usize = 0;
export let sunCount: u32 = 0;
export let points: usize = 0;
export let pointCount: u32 = 0;
/** Cumulative distribution of the sources: environment, suns, points, and all emissive triangles as one. */
export let shares: usize = 0;
export let shareCount: u32 = 0;
/** Records of emissive triangles: what sampling needs of each lies together. */
export let emitters: usize = 0;
export let emitterSums: usize = 0;
/** The first entry of the sums that may be meant, for each of as many equal parts of 0 to 1. */
export let emitterGuide: usize = 0;
export let emitterCount: u32 = 0;
/** Radiance of the environment's texels, and the probability density of each; 0 for no environment. */
export let sky: usize = 0;
export let skyWidth: u32 = 0;
export let skyHeight: u32 = 0;
export let skyRows: usize = 0;
export let skyColumns: usize = 0;
export let skyRowGuide: usize = 0;
export let skyColumnGuide: usize = 0;
export let skyEdges: usize = 0;
export let skyAxes: usize = 0;
export let skyGroup: u32 = 0;
export let albedoTable: usize = 0;
/** Surfaces between the first and a light, at most. */
export let bounces: u32 = 0;
/** Doubles for each texel in what is counted. */
export let stride: usize = 0;
/** How surfaces are seen: 0 along their own normal, 1 from an eye; and the sides: 0 front, 1 back, 2 both. */
export let seenFrom: u32 = 0;
export let faces: u32 = 0;
/** How far beside its place a ray begins, and how far it reaches. */
export let offset: f64 = 0;
export let reach: f64 = 0;
export let eyeX: f64 = 0;
export let eyeY: f64 = 0;
export let eyeZ: f64 = 0;
/** 1 over the square root of the samples that a texel gets: each stands for so wide a share of all directions. */
export let sampleShare: f64 = 0;

/** Where the numbers of the record begin, behind its addresses and counts. */
const NUMBERS: usize = 128;

let at: usize = 0;

/** The next address or count of the record. */
function next(): u32 {
  const value = load<u32>(at);
  at += 4;
  return value;
}

export function useScene(record: usize): void {
  at = record;
  vertices = next();
  corners = next();
  materials = next();
  suns = next();
  sunCount = next();
  points = next();
  pointCount = next();
  shares = next();
  shareCount = next();
  emitters = next();
  emitterSums = next();
  emitterGuide = next();
  emitterCount = next();
  sky = next();
  skyRows = next();
  skyColumns = next();
  skyRowGuide = next();
  skyColumnGuide = next();
  skyEdges = next();
  skyAxes = next();
  skyWidth = next();
  skyHeight = next();
  skyGroup = next();
  albedoTable = next();
  tangents = next();
  bounces = next();
  stride = next();
  seenFrom = next();
  faces = next();
  offset = load<f64>(record + NUMBERS);
  reach = load<f64>(record + NUMBERS, 8);
  eyeX = load<f64>(record + NUMBERS, 16);
  eyeY = load<f64>(record + NUMBERS, 24);
  eyeZ = load<f64>(record + NUMBERS, 32);
  sampleShare = load<f64>(record + NUMBERS, 40);
}

/** The record of a triangle's material. */
@inline
export function materialOf(triangle: u32): usize {
  return materials + <usize>load<u32>(corners + ((<usize>triangle) << 4), 12);
}

/** Of a material that sends the same light everywhere. */
@inline
export function radianceOf(material: usize): v128 {
  return v128.load(material, RADIANCE);
}

@inline
export function hasFlag(material: usize, flag: u32): bool {
  return (load<u32>(material, FLAGS) & flag) !== 0;
}
