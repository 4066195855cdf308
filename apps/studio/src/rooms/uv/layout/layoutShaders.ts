/** Islands are drawn where they lie; those that are chosen are moved on the way, so that dragging costs nothing. */
const PLACE = /* glsl */ `
  in vec2 uv;
  in uint island;
  uniform vec2 eye;         // the place in the middle of the view
  uniform vec2 scale;       // of the view's half width and height, for one tile
  uniform mat3x2 moved;     // of the chosen islands
  uniform highp usampler2D marks;
  flat out uint mark;
  vec4 placed() {
    mark = texelFetch(marks, ivec2(island & 1023u, island >> 10u), 0).r;
    vec2 at = (mark & 1u) != 0u ? moved * vec3(uv, 1.0) : uv;
    return vec4((at - eye) * scale, 0.0, 1.0);
  }
`;

export const FILL_VERTEX = /* glsl */ `#version 300 es
  ${PLACE}
  in float value;
  out float heat;
  void main() {
    heat = value;
    gl_Position = placed();
  }
`;

export const FILL_FRAGMENT = /* glsl */ `#version 300 es
  precision highp float;
  flat in uint mark;
  in float heat;
  uniform vec3 plain;
  uniform vec3 chosen;
  uniform vec3 cold;
  uniform vec3 middle;
  uniform vec3 hot;
  uniform bool heated;
  out vec4 color;
  void main() {
    vec3 base = plain;
    if (heated) base = heat < 0.0 ? mix(middle, cold, min(1.0, -heat)) : mix(middle, hot, min(1.0, heat));
    else if (heat > 0.0) base = hot;
    // What stays, and what shares its room, is hatched.
    float line = mod(gl_FragCoord.x + ((mark & 4u) != 0u ? -1.0 : 1.0) * gl_FragCoord.y, 9.0);
    if ((mark & 6u) != 0u && line < 2.0) base *= 0.72;
    if ((mark & 1u) != 0u) base = mix(base, chosen, heated ? 0.35 : 0.75);
    else if ((mark & 8u) != 0u) base = mix(base, chosen, 0.25);
    color = vec4(base, 0.88);
  }
`;

export const LINE_VERTEX = /* glsl */ `#version 300 es
  ${PLACE}
  void main() {
    gl_Position = placed();
  }
`;

export const LINE_FRAGMENT = /* glsl */ `#version 300 es
  precision highp float;
  flat in uint mark;
  uniform vec4 ink;
  uniform vec3 chosen;
  out vec4 color;
  void main() {
    color = (mark & 1u) != 0u ? vec4(chosen, ink.a) : ink;
  }
`;
