import * as THREE from 'three';
import { FRAME_HEIGHT, FRAME_WIDTH, type FilmCamera } from './camera-film';
import { put, turned } from './shapes';
import { brass, materialOf, wood } from './surfaces';

export const GLASS_RADIUS = 0.06;
const MAGNIFICATION = 1.7;

const GLASS_VERTEX = `varying vec3 facing; varying vec3 toEye; varying vec2 place;
void main() {
  vec4 seen = modelViewMatrix * vec4(position, 1.0);
  facing = normalMatrix * normal; toEye = -seen.xyz; place = uv;
  gl_Position = projectionMatrix * seen;
}`;
const GLASS_FRAGMENT = `uniform sampler2D behind; uniform vec2 middle; uniform float reach;
varying vec3 facing; varying vec3 toEye; varying vec2 place;
void main() {
  vec2 p = (gl_FragCoord.xy - middle) / reach;
  vec3 c = texture2D(behind, 0.5 + 0.5 * p * (0.8 + 0.2 * dot(p, p))).rgb;
  float grazing = pow(1.0 - abs(dot(normalize(facing), normalize(toEye))), 3.0);
  vec2 q = place - 0.5;
  float rim = smoothstep(0.34, 0.5, length(q));
  float lamp = smoothstep(0.05, 0.0, abs(length(q - vec2(0.04, -0.02)) - 0.37)) * smoothstep(0.1, 0.5, dot(normalize(q), normalize(vec2(-0.6, 0.8))));
  c = c * mix(0.95, 0.6, rim) + vec3(0.55, 0.36, 0.19) * (0.05 + 0.5 * grazing) + vec3(1.1, 0.75, 0.42) * 0.55 * lamp;
  gl_FragColor = vec4(c, 1.0);
}`;

export interface Loupe {
  /** The glass lies in x, y about the origin and faces +z; the handle points to −y. */
  readonly body: THREE.Group;
  /** Draws what the glass shows: `scene` behind it, magnified. */
  look(film: FilmCamera, scene: THREE.Scene, camera: THREE.PerspectiveCamera, scale: number): void;
}

/** A brass loupe with a turned handle; ring radius 0.066 m, handle 0.15 m. */
export function makeLoupe(): Loupe {
  const body = new THREE.Group();
  const metal = materialOf(brass(91), 2, 1, { metalness: 0.9 });
  const ring = put(
    body,
    turned(
      [
        [0.06, -0.008],
        [0.067, -0.009],
        [0.0705, -0.004],
        [0.0705, 0.004],
        [0.067, 0.009],
        [0.06, 0.008],
        [0.0585, 0.003],
        [0.0585, -0.003],
        [0.06, -0.008],
      ],
      96,
    ),
    metal,
  );
  ring.rotation.x = Math.PI / 2;
  put(
    body,
    turned(
      [
        [0.006, -0.112],
        [0.0095, -0.108],
        [0.0075, -0.095],
        [0.009, -0.082],
        [0.006, -0.07],
        [0.006, -0.066],
      ],
      32,
    ),
    metal,
  );
  const handle = materialOf(wood(93, [0.4, 0.17, 0.09], [0.2, 0.07, 0.04]), 0.4, 1);
  put(
    body,
    turned(
      [
        [0.001, -0.232],
        [0.009, -0.23],
        [0.0125, -0.215],
        [0.0115, -0.18],
        [0.0085, -0.14],
        [0.0105, -0.12],
        [0.0095, -0.11],
      ],
      32,
    ),
    handle,
  );
  const behind = new THREE.WebGLRenderTarget(384, 384, { type: THREE.HalfFloatType });
  const glass = new THREE.ShaderMaterial({
    vertexShader: GLASS_VERTEX,
    fragmentShader: GLASS_FRAGMENT,
    uniforms: { behind: { value: behind.texture }, middle: { value: new THREE.Vector2() }, reach: { value: 1 } },
    side: THREE.DoubleSide,
  });
  put(body, new THREE.CircleGeometry(GLASS_RADIUS, 96), glass);
  const eye = new THREE.PerspectiveCamera();
  return {
    body,
    look(film, scene, camera, scale) {
      const [width, height] = [FRAME_WIDTH * scale, FRAME_HEIGHT * scale];
      const centre = body.getWorldPosition(new THREE.Vector3());
      const distance = centre.clone().sub(camera.position).dot(camera.getWorldDirection(new THREE.Vector3()));
      const at = centre.project(camera);
      const reach = (GLASS_RADIUS * height) / (2 * distance * Math.tan((camera.fov * Math.PI) / 360));
      const [x, y] = [((at.x + 1) / 2) * width, ((at.y + 1) / 2) * height];
      (glass.uniforms.middle!.value as THREE.Vector2).set(x, y);
      glass.uniforms.reach!.value = reach;
      eye.copy(camera, false);
      const half = reach / MAGNIFICATION;
      eye.setViewOffset(width, height, x - half, height - y - half, 2 * half, 2 * half);
      eye.updateMatrixWorld();
      body.visible = false;
      film.renderer.setRenderTarget(behind);
      film.renderer.clear();
      film.renderer.render(scene, eye);
      body.visible = true;
    },
  };
}
