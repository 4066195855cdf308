/**
 * The view's own shading. The normal is rebuilt as MikkTSpace prescribes, from interpolated vectors that are
 * not normalised, so what is seen is what the map says; then one turning light and a plain studio of grey
 * walls, brighter above, with the microfacet model of glTF 2.0 (GGX, Smith, Schlick).
 */

export const VERTEX_SHADER = /* glsl */ `
  in vec4 tangent;
  in vec4 tint;
  out vec4 vTint;
  out vec3 vPosition;
  out vec3 vNormal;
  out vec3 vTangent;
  out float vSign;
  out vec2 vUv;
  void main() {
    vPosition = position;
    vNormal = normal;
    vTangent = tangent.xyz;
    vSign = tangent.w;
    vUv = uv;
    vTint = tint;
    gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
  }
`;

export const FRAGMENT_SHADER = /* glsl */ `
  precision highp float;
  uniform sampler2D colorMap;
  uniform bool colorWorn;
  uniform sampler2D normalMap;
  uniform bool normalWorn;
  uniform sampler2D occlusionMap;
  uniform bool occlusionWorn;
  uniform sampler2D chosenMap;
  uniform bool chosenWorn;
  uniform int look;          // 0 lit, 1 the map alone, 2 checker
  uniform bool objectSpace;
  uniform float green;       // 1 with Y up, -1 with Y down
  uniform vec3 light;        // towards the light
  uniform vec3 albedo;
  uniform float roughness;
  uniform float checks;
  in vec3 vPosition;
  in vec3 vNormal;
  in vec3 vTangent;
  in float vSign;
  in vec2 vUv;
  in vec4 vTint;         // laid over the colour of the surface, by its alpha
  out vec4 color;

  vec3 encode(vec3 c) {
    c = max(c, vec3(0.0));
    return mix(c * 12.92, 1.055 * pow(c, vec3(1.0 / 2.4)) - 0.055, step(vec3(0.0031308), c));
  }

  vec3 decode(vec3 c) {
    return mix(c / 12.92, pow((c + 0.055) / 1.055, vec3(2.4)), step(vec3(0.04045), c));
  }

  // The room: floor, walls and ceiling in greys, with a broad lamp overhead.
  float room(vec3 d) {
    return mix(0.16, 0.62, smoothstep(-0.6, 0.9, d.y)) + 0.5 * smoothstep(0.75, 0.98, d.y);
  }

  void main() {
    vec2 at = vec2(vUv.x, 1.0 - vUv.y);
    if (look == 1) { color = chosenWorn ? vec4(texture(chosenMap, at).rgb, 1.0) : vec4(vec3(0.3), 1.0); return; }

    vec3 n = normalize(vNormal);
    if (normalWorn && look == 0) {
      vec3 t = texture(normalMap, at).rgb * 2.0 - 1.0;
      if (objectSpace) n = normalize(t);
      else {
        t.y *= green;
        vec3 bitangent = vSign * cross(vNormal, vTangent);
        n = normalize(t.x * vTangent + t.y * bitangent + t.z * vNormal);
      }
    }
    vec3 view = normalize(cameraPosition - vPosition);
    vec3 base = albedo;
    if (colorWorn && look == 0) base = decode(texture(colorMap, at).rgb);
    if (look == 2) {
      vec2 cell = floor(vUv * checks);
      float odd = mod(cell.x + cell.y, 2.0);
      base = mix(vec3(0.62), vec3(0.16), odd);
    }
    base = mix(base, vTint.rgb, vTint.a);

    float nl = max(dot(n, light), 0.0);
    float nv = max(dot(n, view), 1e-3);
    vec3 h = normalize(light + view);
    float nh = max(dot(n, h), 0.0);
    float a = roughness * roughness;
    float d = nh * nh * (a * a - 1.0) + 1.0;
    float distribution = a * a / (3.14159265 * d * d);
    float k = a * 0.5;
    float shadowing = 1.0 / ((nl * (1.0 - k) + k) * (nv * (1.0 - k) + k) * 4.0);
    float fresnel = 0.04 + 0.96 * pow(1.0 - max(dot(h, view), 0.0), 5.0);
    vec3 direct = (base / 3.14159265 + distribution * shadowing * fresnel) * nl * 3.4;

    vec3 mirrored = reflect(-view, n);
    float rim = 0.04 + (1.0 - roughness) * 0.5 * pow(1.0 - nv, 5.0);
    float open = occlusionWorn && look == 0 ? texture(occlusionMap, at).r : 1.0;
    vec3 ambient = (base * room(n) * 0.55 + rim * room(mirrored)) * open;
    color = vec4(encode(direct + ambient), 1.0);
  }
`;
