import { Vector2, type IUniform, type MeshStandardMaterial, type Texture } from 'three';

/**
 * Relief without geometry: the eye's ray is followed through the heights below each pixel, and what it meets is shown
 * there (relief mapping: Policarpo, Oliveira and Comba, "Real-Time Relief Mapping on Arbitrary Polygonal Surfaces", 2005).
 * Steps in a straight line until below the relief, then halved. Outlines stay those of the surface.
 */
export interface Parallax {
  /** Heights, 0 to 1. */
  map: Texture;
  /** How high 1 lies over 0, in units of the scene; the surface lies in the middle. */
  tall: number;
}

/** Follows heights in a material of `viewMaterial`, all of whose maps repeat as these do. Before it is compiled. */
export function setParallax(material: MeshStandardMaterial, { map, tall }: Parallax): void {
  material.defines = { ...material.defines, HAS_PARALLAX: '', USE_UV: '' };
  Object.assign(material.userData['uniforms'] as Record<string, IUniform>, {
    parallaxMap: { value: map },
    parallaxTall: { value: tall },
    parallaxRepeat: { value: new Vector2().copy(map.repeat) },
  });
}

export const PARALLAX_HEAD = /* glsl */ `
#ifdef HAS_PARALLAX
  uniform sampler2D parallaxMap;
  uniform float parallaxTall;
  uniform vec2 parallaxRepeat;
#endif
`;

// Gradients of UVs over the surface from derivatives on screen: Mikkelsen, "Bump Mapping Unparametrized Surfaces on the
// GPU", 2010. Where the eye looks along the surface, steps are limited, so that nothing is drawn out without end.
export const PARALLAX_BODY = /* glsl */ `
#ifdef HAS_PARALLAX
  vec2 parallaxUv = vUv * parallaxRepeat;
  {
    vec3 toEye = normalize(vViewPosition);
    vec3 up = normalize(vNormal) * (gl_FrontFacing ? 1.0 : -1.0);
    vec3 alongX = dFdx(-vViewPosition);
    vec3 alongY = dFdy(-vViewPosition);
    vec2 uvX = dFdx(parallaxUv);
    vec2 uvY = dFdy(parallaxUv);
    vec3 crossY = cross(alongY, up);
    vec3 crossX = cross(up, alongX);
    float area = dot(alongX, crossY);
    vec3 gradientU = (crossY * uvX.x + crossX * uvY.x) / area;
    vec3 gradientV = (crossY * uvX.y + crossX * uvY.y) / area;
    float slant = max(dot(toEye, up), 0.2);
    // UVs that the ray passes from the highest place to the lowest.
    vec2 across = -vec2(dot(gradientU, toEye), dot(gradientV, toEye)) * parallaxTall / slant;
    int steps = int(mix(64.0, 24.0, slant));
    float stride = 1.0 / float(steps);
    float depth = 0.0;
    vec2 from = parallaxUv - 0.5 * across;
    for (int i = 0; i < 64; i++) {
      if (i >= steps || 1.0 - texture2DGradEXT(parallaxMap, from + across * depth, uvX, uvY).x <= depth) break;
      depth += stride;
    }
    for (int i = 0; i < 6; i++) {
      stride *= 0.5;
      float ground = 1.0 - texture2DGradEXT(parallaxMap, from + across * depth, uvX, uvY).x;
      depth += ground > depth ? stride : -stride;
    }
    parallaxUv = from + across * clamp(depth, 0.0, 1.0);
  }
  #define vMapUv parallaxUv
  #define vAlphaMapUv parallaxUv
  #define vAoMapUv parallaxUv
  #define vNormalMapUv parallaxUv
  #define vEmissiveMapUv parallaxUv
  #define vMetalnessMapUv parallaxUv
  #define vRoughnessMapUv parallaxUv
#endif
`;

/** Tangents follow the surface, not the places that are shown on it, which jump at edges. */
export const PARALLAX_NORMAL_BEGIN = /* glsl */ `
#ifdef HAS_PARALLAX
  #undef vNormalMapUv
#endif
#include <normal_fragment_begin>
#ifdef HAS_PARALLAX
  #define vNormalMapUv parallaxUv
#endif
`;
