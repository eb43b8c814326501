import type { FaceAxes, PanoramaLayout } from '@arvex/core';
import { CUBE_FACES, FACE_AXES } from '@arvex/core';
import type { IUniform, Texture } from 'three';
import { Matrix3, Mesh, PlaneGeometry, Scene, ShaderMaterial, Vector2, Vector4 } from 'three';
import { ADDED, FULL_VERTEX } from './adding';

/** Layouts as the shader knows them. */
const LAYOUTS = { sphere: 0, cylinder: 1, cross: 2, strip: 3, face: 4 } as const;

const glslVector = ([x, y, z]: readonly [number, number, number]) =>
  `vec3(${x.toFixed(1)}, ${y.toFixed(1)}, ${z.toFixed(1)})`;
const onFace = ({ ahead, right, up }: FaceAxes) =>
  `${glslVector(ahead)} + u * ${glslVector(right)} + v * ${glslVector(up)}`;

/** What of a panorama is drawn from one flat picture. */
export interface MappedPart {
  readonly layout: PanoramaLayout;
  /** Pixels of the whole panorama, and the corner of the part of it that is drawn, from the top left. */
  readonly wholePx: readonly [number, number];
  readonly cornerPx: readonly [number, number];
  readonly sizePx: readonly [number, number];
  /** Where in its pixels the sample is taken, −0.5 to 0.5, to the right and up. */
  readonly jitter: { readonly x: number; readonly y: number };
  /** Longitudes that are drawn, and by how much the picture is turned, radians. */
  readonly slice: readonly [number, number];
  readonly turned: number;
  /** Which directions the flat picture has: its axes, and the part of its plane at distance 1, left, bottom, right, top. */
  readonly axes: FaceAxes;
  readonly window: readonly [number, number, number, number];
  readonly picturePx: readonly [number, number];
}

/** Lays flat pictures of directions into a panorama. */
export class PanoramaMap {
  readonly scene = new Scene();
  private readonly material: ShaderMaterial;
  private readonly plane: Mesh<PlaneGeometry, ShaderMaterial>;

  constructor(picture: Texture) {
    this.material = new ShaderMaterial({
      depthTest: false,
      depthWrite: false,
      toneMapped: false,
      ...ADDED,
      uniforms: {
        picture: { value: picture },
        shape: { value: 0 },
        onlyFace: { value: 0 },
        halfHeight: { value: 1 },
        whole: { value: new Vector2() },
        corner: { value: new Vector2() },
        size: { value: new Vector2() },
        jitter: { value: new Vector2() },
        slice: { value: new Vector2() },
        turned: { value: 0 },
        toFace: { value: new Matrix3() },
        seen: { value: new Vector4() },
        pictureSize: { value: new Vector2() },
      },
      vertexShader: FULL_VERTEX,
      fragmentShader: MAPPING,
    });
    this.plane = new Mesh(new PlaneGeometry(2, 2), this.material);
    this.plane.frustumCulled = false;
    this.scene.add(this.plane);
  }

  set(part: MappedPart): void {
    const { layout, axes } = part;
    const { uniforms } = this.material;
    const put = (name: string, value: unknown) => {
      const uniform = uniforms[name] as IUniform | undefined;
      if (uniform) uniform.value = value;
    };
    const pair = (name: string, [x, y]: readonly [number, number]) => (uniforms[name]?.value as Vector2).set(x, y);
    put('shape', LAYOUTS[layout.kind]);
    put('onlyFace', layout.kind === 'face' ? CUBE_FACES.indexOf(layout.face) : 0);
    put('halfHeight', layout.kind === 'cylinder' ? layout.halfHeight : 1);
    put('turned', part.turned);
    pair('whole', part.wholePx);
    pair('corner', part.cornerPx);
    pair('size', part.sizePx);
    pair('jitter', [part.jitter.x, part.jitter.y]);
    pair('slice', part.slice);
    pair('pictureSize', part.picturePx);
    (uniforms['seen']?.value as Vector4).set(...part.window);
    const { right, up, ahead } = axes;
    (uniforms['toFace']?.value as Matrix3).set(...right, ...up, ...ahead);
  }

  dispose(): void {
    this.plane.geometry.dispose();
    this.material.dispose();
  }
}

const MAPPING = /* glsl */ `
  uniform sampler2D picture;
  uniform int shape, onlyFace;
  uniform float halfHeight, turned;
  uniform vec2 whole, corner, size, jitter, slice, pictureSize;
  uniform mat3 toFace;
  uniform vec4 seen;
  varying vec2 place;

  const float PI = 3.141592653589793;

  vec3 onFace(int face, float u, float v) {
    ${CUBE_FACES.slice(0, -1)
      .map((name, i) => `if (face == ${i}) return ${onFace(FACE_AXES[name])};`)
      .join('\n    ')}
    return ${onFace(FACE_AXES[CUBE_FACES.at(-1) ?? 'down'])};
  }

  /* The face of a cross at a column and a row; none in its corners. */
  int crossFace(int column, int row) {
    if (row == 1) return column == 0 ? ${CUBE_FACES.indexOf('left')} : column == 1 ? ${CUBE_FACES.indexOf('front')} : column == 2 ? ${CUBE_FACES.indexOf('right')} : ${CUBE_FACES.indexOf('back')};
    if (column != 1) return -1;
    return row == 0 ? ${CUBE_FACES.indexOf('up')} : ${CUBE_FACES.indexOf('down')};
  }

  vec4 texel(ivec2 at) {
    return texelFetch(picture, clamp(at, ivec2(0), ivec2(pictureSize) - 1), 0);
  }

  void main() {
    // Pixels of the whole panorama, from the top left.
    vec2 pixel = corner + vec2(place.x, 1.0 - place.y) * size;
    int column = 0, row = 0;
    vec2 faces = shape == ${LAYOUTS.cross} ? vec2(4.0, 3.0) : shape == ${LAYOUTS.strip} ? vec2(6.0, 1.0) : vec2(1.0);
    if (shape >= ${LAYOUTS.cross}) {
      // Told by the middle of the pixel: its samples do not spill into the next face.
      vec2 cell = floor(pixel / whole * faces);
      column = int(cell.x);
      row = int(cell.y);
    }
    vec2 at = (pixel + vec2(jitter.x, -jitter.y)) / whole;
    vec3 direction;
    if (shape <= ${LAYOUTS.cylinder}) {
      float longitude = (at.x - 0.5) * 2.0 * PI;
      if (shape == ${LAYOUTS.cylinder}) direction = vec3(sin(longitude), (1.0 - 2.0 * at.y) * halfHeight, -cos(longitude));
      else {
        float latitude = (0.5 - at.y) * PI;
        direction = vec3(sin(longitude) * cos(latitude), sin(latitude), -cos(longitude) * cos(latitude));
      }
    } else {
      int face = shape == ${LAYOUTS.cross} ? crossFace(column, row) : shape == ${LAYOUTS.strip} ? column : onlyFace;
      if (face < 0) discard;
      vec2 within = at * faces - vec2(float(column), float(row));
      direction = onFace(face, 2.0 * within.x - 1.0, 1.0 - 2.0 * within.y);
    }
    float c = cos(turned), s = sin(turned);
    direction = vec3(direction.x * c - direction.z * s, direction.y, direction.x * s + direction.z * c);
    float longitude = atan(direction.x, -direction.z);
    if (longitude < slice.x || longitude >= slice.y) discard;
    vec3 q = toFace * direction;
    if (q.z <= 0.0 || q.x > q.z || q.x <= -q.z || q.y > q.z || q.y <= -q.z) discard;
    vec2 film = q.xy / q.z;
    vec2 found = (film - seen.xy) / (seen.zw - seen.xy) * pictureSize - 0.5;
    ivec2 base = ivec2(floor(found));
    vec2 between = fract(found);
    vec4 lower = mix(texel(base), texel(base + ivec2(1, 0)), between.x);
    vec4 upper = mix(texel(base + ivec2(0, 1)), texel(base + ivec2(1, 1)), between.x);
    gl_FragColor = mix(lower, upper, between.y);
  }`;
