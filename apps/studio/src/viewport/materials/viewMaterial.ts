import { DoubleSide, Matrix3, MeshStandardMaterial, type BufferGeometry, type Texture } from 'three';
import { PARALLAX_BODY, PARALLAX_HEAD, PARALLAX_NORMAL_BEGIN } from './parallax.ts';
import { channelsOfAxes, GLTF_NORMAL, type MapKind, type NormalSpace } from '@zographos/core/image';

/** The maps of one tile as textures, by their kinds. */
export type MapTextures = ReadonlyMap<MapKind, Texture>;

/** How a surface is shown, beside its maps. */
export interface SurfaceLook {
  /** How directions of the normal map are written. */
  normals: NormalSpace;
  /** Strength of the normal map: 0 for none, 1 as it is. */
  normalStrength: number;
}

/** The kinds that a lit surface is made of. */
export const LIT_KINDS: readonly MapKind[] = [
  'basecolor',
  'normal',
  'ao',
  'roughness',
  'metallic',
  'emission',
  'opacity',
];

/** A surface of which nothing is known: mid grey, half rough. */
const PLAIN = { color: '#a3a3a0', roughness: 0.55, metalness: 0 };

/**
 * A surface with all channels of glTF 2.0 that its maps give: base colour, roughness, metallic, normal, ambient
 * occlusion, emission and opacity.
 *
 * What three.js does otherwise is replaced: geometry that carries a `frame` (MikkTSpace tangent and sign) rebuilds its
 * normal from interpolated vectors that are not normalised, as Mikkelsen (2008) prescribes, so that what is seen is what
 * the map says; a `tint` is laid over the colour of the surface by its alpha; a `direction` is that of displacement.
 */
export function viewMaterial(
  maps: MapTextures,
  look: SurfaceLook,
  geometry: Pick<BufferGeometry, 'hasAttribute'>,
): MeshStandardMaterial {
  const map = (kind: MapKind): Texture | null => maps.get(kind) ?? null;
  const material = new MeshStandardMaterial({
    color: map('basecolor') ? '#ffffff' : PLAIN.color,
    map: map('basecolor'),
    aoMap: map('ao'),
    roughnessMap: map('roughness'),
    roughness: map('roughness') ? 1 : PLAIN.roughness,
    metalnessMap: map('metallic'),
    metalness: map('metallic') ? 1 : PLAIN.metalness,
    normalMap: map('normal'),
    emissiveMap: map('emission'),
    emissive: map('emission') ? '#ffffff' : '#000000',
    alphaMap: map('opacity'),
    transparent: map('opacity') !== null,
    // One looks into open meshes, and through holes of opacity.
    side: DoubleSide,
  });
  for (const name of ['frame', 'tint', 'direction'] as const) {
    if (geometry.hasAttribute(name)) material.defines = { ...material.defines, [`HAS_${name.toUpperCase()}`]: '' };
  }
  const uniforms = {
    swizzle: { value: swizzleOf(look.normals) },
    objectSpace: { value: look.normals.space === 'object' },
    strength: { value: look.normalStrength },
  };
  material.userData['uniforms'] = uniforms;
  material.onBeforeCompile = (shader) => {
    Object.assign(shader.uniforms, uniforms);
    shader.vertexShader = shader.vertexShader
      .replace('#include <common>', `#include <common>\n${VERTEX_HEAD}`)
      .replace('#include <begin_vertex>', `#include <begin_vertex>\n${VERTEX_BODY}`)
      .replace('#include <displacementmap_vertex>', DISPLACEMENT);
    shader.fragmentShader = shader.fragmentShader
      .replace('#include <common>', `#include <common>\n${FRAGMENT_HEAD}${PARALLAX_HEAD}`)
      .replace('#include <map_fragment>', `${PARALLAX_BODY}\n#include <map_fragment>`)
      .replace('#include <normal_fragment_begin>', PARALLAX_NORMAL_BEGIN)
      .replace('#include <color_fragment>', `#include <color_fragment>\n${TINT}`)
      .replace('#include <normal_fragment_maps>', NORMAL);
  };
  material.customProgramCacheKey = () => 'view material';
  return material;
}

/** Changes the strength of a material's normal map without building it anew. */
export function setNormalStrength(material: MeshStandardMaterial, strength: number): void {
  const uniforms = material.userData['uniforms'] as { strength: { value: number } } | undefined;
  if (uniforms) uniforms.strength.value = strength;
}

/**
 * The matrix that takes a stored direction (−1 to 1 by channel) to x, y, z with Y up.
 * @example swizzleOf({ space: 'tangent', y: 'down', axes: 'xyz' }) // turns the second axis round
 */
export function swizzleOf({ space, y, axes }: NormalSpace = GLTF_NORMAL): Matrix3 {
  const rows = channelsOfAxes(axes).map((channel, axis) =>
    [0, 1, 2].map((c) => (c === channel ? (axis === 1 && space === 'tangent' && y === 'down' ? -1 : 1) : 0)),
  );
  return new Matrix3().set(...(rows.flat() as Parameters<Matrix3['set']>));
}

const VERTEX_HEAD = /* glsl */ `
#ifdef HAS_FRAME
  attribute vec4 frame;
  varying vec3 vFrameNormal;
  varying vec3 vFrameTangent;
  varying float vFrameSign;
#endif
#ifdef HAS_TINT
  attribute vec4 tint;
  varying vec4 vTint;
#endif
#ifdef HAS_DIRECTION
  attribute vec3 direction;
#endif
varying vec3 vOwnNormal;
`;

// Bodies are moved but never turned, so that the view alone turns their vectors.
const VERTEX_BODY = /* glsl */ `
#ifdef HAS_FRAME
  vFrameNormal = mat3(viewMatrix) * normal;
  vFrameTangent = mat3(viewMatrix) * frame.xyz;
  vFrameSign = frame.w;
#endif
#ifdef HAS_TINT
  vTint = tint;
#endif
vOwnNormal = normal;
`;

// Along directions that are one at each place: along its normals, hard edges would tear.
const DISPLACEMENT = /* glsl */ `
#ifdef USE_DISPLACEMENTMAP
  #ifdef HAS_DIRECTION
    vec3 outwards = normalize(direction);
  #else
    vec3 outwards = normalize(objectNormal);
  #endif
  transformed += outwards * (texture2D(displacementMap, vDisplacementMapUv).x * displacementScale + displacementBias);
#endif
`;

const FRAGMENT_HEAD = /* glsl */ `
#ifdef HAS_FRAME
  varying vec3 vFrameNormal;
  varying vec3 vFrameTangent;
  varying float vFrameSign;
#endif
#ifdef HAS_TINT
  varying vec4 vTint;
#endif
varying vec3 vOwnNormal;
uniform mat3 swizzle;
uniform bool objectSpace;
uniform float strength;
`;

const TINT = /* glsl */ `
#ifdef HAS_TINT
  diffuseColor.rgb = mix(diffuseColor.rgb, vTint.rgb, vTint.a);
#endif
`;

const NORMAL = /* glsl */ `
#ifdef USE_NORMALMAP
  vec3 mapped = swizzle * (texture2D(normalMap, vNormalMapUv).xyz * 2.0 - 1.0);
  if (objectSpace) {
    vec3 own = normalize(vOwnNormal);
    normal = normalize(mat3(viewMatrix) * (own + (mapped - own) * strength)) * faceDirection;
  } else {
    mapped.xy *= strength;
    #ifdef HAS_FRAME
      vec3 bitangent = vFrameSign * cross(vFrameNormal, vFrameTangent);
      normal = normalize(mapped.x * vFrameTangent + mapped.y * bitangent + mapped.z * vFrameNormal) * faceDirection;
    #else
      // Rows of textures run downwards, Y of a normal up.
      mapped.y = -mapped.y;
      normal = normalize(tbn * mapped);
    #endif
  }
#elif defined( USE_BUMPMAP )
  normal = perturbNormalArb(-vViewPosition, normal, dHdxy_fwd(), faceDirection);
#endif
`;
