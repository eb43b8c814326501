/** A streak is a sum of so many steps with so many looks each: 4^4 cells long at most. */
export const [STREAK_STEPS, STREAK_LOOKS] = [4, 4] as const;
/** What shines brighter than so many times what clips glows no more than that: a bare bulb would wash all out. */
const BRIGHTEST = 32;

/** The mean of what lies in a cell, and of that what is bright enough. */
export const GATHER = /* glsl */ `
  uniform sampler2D picture, mask;
  uniform float share, threshold;
  uniform int looks;
  uniform vec4 inside;
  uniform vec2 cell;
  varying vec2 place;

  void main() {
    vec3 sum = vec3(0.0);
    for (int y = 0; y < looks; y++) {
      for (int x = 0; x < looks; x++) {
        vec2 at = place + ((vec2(float(x), float(y)) + 0.5) / float(looks) - 0.5) * cell;
        vec3 light = texture2D(picture, at).rgb * share;
        float peak = max(light.r, max(light.g, light.b));
        vec2 within = step(inside.xy, at) * step(at, inside.zw);
        light *= within.x * within.y * clamp(peak - threshold, 0.0, ${BRIGHTEST.toFixed(1)}) / max(peak, 1.0e-6);
        #ifdef MASKED
        light *= min(1.0, texture2D(mask, at).r);
        #endif
        sum += light;
      }
    }
    gl_FragColor = vec4(sum / float(looks * looks), 1.0);
  }`;

/** The mean of what lies in a larger cell. */
export const SHRINK = /* glsl */ `
  uniform sampler2D picture;
  uniform vec2 looks, cell;
  varying vec2 place;

  void main() {
    vec3 sum = vec3(0.0);
    for (float y = 0.0; y < looks.y; y++) {
      for (float x = 0.0; x < looks.x; x++) {
        sum += texture2D(picture, place + ((vec2(x, y) + 0.5) / looks - 0.5) * cell).rgb;
      }
    }
    gl_FragColor = vec4(sum / (looks.x * looks.y), 1.0);
  }`;

/** A Gaussian along one axis: two cells in a look, between them as they weigh. */
export const BLUR = /* glsl */ `
  uniform sampler2D picture;
  uniform vec2 along;
  uniform float sigma;
  varying vec2 place;

  /* Beyond the picture it is dark. */
  vec3 lightAt(vec2 at) {
    vec2 there = step(0.0, at) * step(at, vec2(1.0));
    return texture2D(picture, at).rgb * there.x * there.y;
  }

  void main() {
    vec3 sum = lightAt(place);
    float weights = 1.0;
    float reach = ceil(3.0 * sigma);
    for (float i = 1.0; i <= reach; i += 2.0) {
      vec2 both = exp(-0.5 * vec2(i * i, (i + 1.0) * (i + 1.0)) / (sigma * sigma));
      float weight = both.x + both.y;
      vec2 away = along * (i + both.y / weight);
      sum += weight * (lightAt(place + away) + lightAt(place - away));
      weights += 2.0 * weight;
    }
    gl_FragColor = vec4(sum / weights, 1.0);
  }`;

/** All that is spread: of the glow most near, some of it wide, and streaks. */
export const SPREAD = /* glsl */ `
  uniform sampler2D near, wide, streaks;
  uniform float glow, wideShare, streak;
  varying vec2 place;

  void main() {
    vec3 glowing = mix(texture2D(near, place).rgb, texture2D(wide, place).rgb, wideShare);
    gl_FragColor = vec4(glow * glowing + streak * texture2D(streaks, place).rgb, 1.0);
  }`;

/** What lies back along an arm, less and less. */
export const ARM = /* glsl */ `
  uniform sampler2D picture;
  uniform vec2 along;
  uniform vec3 kept, gain;
  varying vec2 place;

  void main() {
    vec3 sum = vec3(0.0);
    vec3 weight = vec3(1.0);
    for (float i = 0.0; i < ${STREAK_LOOKS.toFixed(1)}; i++) {
      vec2 at = place - along * i;
      bool there = at.x >= 0.0 && at.y >= 0.0 && at.x <= 1.0 && at.y <= 1.0;
      if (there) sum += weight * texture2D(picture, at).rgb;
      weight *= kept;
    }
    gl_FragColor = vec4(sum * gain, 1.0);
  }`;
