import * as THREE from 'three';
import { RoomEnvironment } from 'three/examples/jsm/environments/RoomEnvironment.js';

export const FRAME_WIDTH = 1280;
export const FRAME_HEIGHT = 720;
export const FRAMES_PER_SECOND = 24;

/** What a shot file exports: a scene that can be put to any (fractional) frame. */
export interface Shot {
  readonly name: string;
  readonly frames: number;
  readonly scene: THREE.Scene;
  readonly camera: THREE.PerspectiveCamera;
  /** Draws what is drawn once for the whole shot, out-of-focus backgrounds for instance. */
  readonly prepare?: (film: FilmCamera) => void;
  /** Poses everything, the camera too, at `frame`. */
  pose(frame: number): void;
  /** Draws what another picture of the scene needs, the view through a lens for instance; the camera stands as for this sample. */
  readonly beforeSample?: (film: FilmCamera) => void;
  /** What the subject matte shows white. */
  readonly subject: THREE.Object3D | null;
  /** Shutter samples for a frame; more where things move fast. */
  samplesAt(frame: number): number;
  /** Share of the frame the shutter is open, 0..1. */
  readonly shutter: number;
  readonly exposure: number;
  /** Distance of sharp focus in metres and radius of the lens in metres (0: everything is sharp). */
  readonly focus: number;
  readonly lensRadius: number;
  /** Named points in the world at the frame last posed, written as truth in pixels. */
  points(): Record<string, THREE.Vector3>;
}

const QUAD_VERTEX = 'varying vec2 at; void main() { at = uv; gl_Position = vec4(position.xy, 0.0, 1.0); }';

function pass(fragment: string, uniforms: Record<string, THREE.IUniform>, additive = false): THREE.ShaderMaterial {
  return new THREE.ShaderMaterial({
    vertexShader: QUAD_VERTEX,
    fragmentShader: `varying vec2 at; ${fragment}`,
    uniforms,
    depthTest: false,
    depthWrite: false,
    ...(additive ? { blending: THREE.CustomBlending, blendSrc: THREE.OneFactor, blendDst: THREE.OneFactor, transparent: true } : {}),
  });
}

const ADD =
  'uniform sampler2D picture; uniform float weight; void main() { gl_FragColor = vec4(texture2D(picture, at).rgb * weight, 1.0); }';

const BLUR = `uniform sampler2D picture; uniform vec2 stride; uniform float threshold;
void main() {
  vec3 sum = vec3(0.0); float total = 0.0;
  for (int i = -6; i <= 6; i++) {
    float w = exp(-float(i * i) / 14.0);
    vec3 c = min(texture2D(picture, at + float(i) * stride).rgb, vec3(24.0));
    sum += w * max(c - threshold, 0.0); total += w;
  }
  gl_FragColor = vec4(sum / total, 1.0);
}`;

const FINISH = `uniform sampler2D picture, glowA, glowB, glowC; uniform float exposure, frame;
float hash(vec3 p) { p = fract(p * vec3(0.1031, 0.11369, 0.13787)); p += dot(p, p.yzx + 19.19); return fract((p.x + p.y) * p.z); }
vec3 curve(vec3 x) { return clamp((x * (2.51 * x + 0.03)) / (x * (2.43 * x + 0.59) + 0.14), 0.0, 1.0); }
void main() {
  vec3 c = texture2D(picture, at).rgb;
  c += 0.10 * texture2D(glowA, at).rgb + 0.08 * texture2D(glowB, at).rgb + 0.07 * texture2D(glowC, at).rgb;
  vec2 d = at - 0.5; c *= exposure * (1.0 - 0.55 * dot(d, d));
  c = curve(c);
  float luma = dot(c, vec3(0.2126, 0.7152, 0.0722));
  c = mix(c, c * vec3(1.03, 1.0, 0.94), smoothstep(0.2, 0.9, luma));
  c += (1.0 - smoothstep(0.0, 0.35, luma)) * vec3(0.004, 0.007, 0.014);
  c = mix(c * 12.92, 1.055 * pow(max(c, vec3(1e-5)), vec3(1.0 / 2.4)) - 0.055, step(0.0031308, c));
  vec2 pixel = floor(at * vec2(${FRAME_WIDTH}.0, ${FRAME_HEIGHT}.0));
  float g = hash(vec3(pixel, frame)) + hash(vec3(pixel + 71.0, frame + 3.0)) - 1.0;
  c += g * 0.022 * (1.0 - 0.6 * luma);
  gl_FragColor = vec4(c, 1.0);
}`;

/** Radical inverse: well-spread sample positions. */
function halton(index: number, base: number): number {
  let result = 0;
  for (let f = 1 / base, i = index; i > 0; f /= base, i = Math.floor(i / base)) result += f * (i % base);
  return result;
}

/** Exposes frames of a shot: shutter, lens and pixel samples together, then glow, tone curve and grain. */
export class FilmCamera {
  readonly renderer: THREE.WebGLRenderer;
  readonly scale: number;
  private readonly target: THREE.WebGLRenderTarget;
  private readonly sum: THREE.WebGLRenderTarget;
  private readonly glows: THREE.WebGLRenderTarget[];
  private readonly quad = new THREE.Mesh(new THREE.PlaneGeometry(2, 2));
  private readonly flat = new THREE.OrthographicCamera(-1, 1, 1, -1, 0, 1);
  private readonly add = pass(ADD, { picture: { value: null }, weight: { value: 1 } }, true);
  private readonly copy = pass(ADD, { picture: { value: null }, weight: { value: 1 } });
  private readonly blur = pass(BLUR, { picture: { value: null }, stride: { value: new THREE.Vector2() }, threshold: { value: 0 } });
  private readonly finish = pass(FINISH, {
    picture: { value: null },
    glowA: { value: null },
    glowB: { value: null },
    glowC: { value: null },
    exposure: { value: 1 },
    frame: { value: 0 },
  });

  constructor(canvas: HTMLCanvasElement, scale: number) {
    this.scale = scale;
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: false, preserveDrawingBuffer: true });
    this.renderer.setPixelRatio(1);
    this.renderer.setSize(FRAME_WIDTH * scale, FRAME_HEIGHT * scale, false);
    this.renderer.shadowMap.enabled = true;
    this.renderer.shadowMap.type = THREE.PCFSoftShadowMap;
    this.renderer.shadowMap.autoUpdate = false;
    this.renderer.toneMapping = THREE.NoToneMapping;
    this.renderer.outputColorSpace = THREE.LinearSRGBColorSpace;
    this.renderer.autoClear = false;
    const options = { type: THREE.HalfFloatType, depthBuffer: true, generateMipmaps: false };
    const width = FRAME_WIDTH * scale;
    const height = FRAME_HEIGHT * scale;
    this.target = new THREE.WebGLRenderTarget(width, height, { ...options, samples: 0 });
    this.sum = new THREE.WebGLRenderTarget(width, height, { ...options, type: THREE.FloatType, depthBuffer: false });
    this.glows = [4, 4, 8, 8, 16, 16].map((d) => new THREE.WebGLRenderTarget(width / d, height / d, { ...options, depthBuffer: false }));
  }

  /**
   * Draws `scene` once through `lens`, out of focus, and gives the picture: a background for a whole shot.
   * @param focus distance of sharp focus in metres; @param lensRadius in metres; @param samples places on the lens
   */
  bake(scene: THREE.Scene, lens: THREE.PerspectiveCamera, focus: number, lensRadius: number, samples: number): THREE.Texture {
    const size = { width: Math.round(960 * this.scale), height: Math.round(540 * this.scale) };
    const options = { type: THREE.HalfFloatType, generateMipmaps: false };
    const one = new THREE.WebGLRenderTarget(size.width, size.height, options);
    const all = new THREE.WebGLRenderTarget(size.width, size.height, { ...options, depthBuffer: false });
    this.renderer.setRenderTarget(all);
    this.renderer.setClearColor(0, 1);
    this.renderer.clear();
    const metresToPixels = size.height / (2 * focus * Math.tan((lens.fov * Math.PI) / 360));
    const at = lens.position.clone();
    for (let s = 0; s < samples; s++) {
      const angle = 2.399963 * s; // golden angle: even cover of the lens
      const radius = lensRadius * Math.sqrt((s + 0.5) / samples);
      const [dx, dy] = [radius * Math.cos(angle), radius * Math.sin(angle)];
      lens.position.copy(at);
      lens.translateX(dx);
      lens.translateY(dy);
      lens.setViewOffset(size.width, size.height, -dx * metresToPixels, dy * metresToPixels, size.width, size.height);
      lens.updateMatrixWorld();
      this.renderer.shadowMap.needsUpdate = s === 0;
      this.renderer.setRenderTarget(one);
      this.renderer.clear();
      this.renderer.render(scene, lens);
      this.add.uniforms.picture!.value = one.texture;
      this.add.uniforms.weight!.value = 1 / samples;
      this.draw(this.add, all);
    }
    lens.position.copy(at);
    lens.clearViewOffset();
    one.dispose();
    return all.texture;
  }

  /** Draws `frame` of `shot` to the canvas as a finished picture. */
  expose(shot: Shot, frame: number, samples: number): void {
    this.accumulate(shot, frame, samples);
    let from: THREE.WebGLRenderTarget = this.sum;
    for (let level = 0; level < 3; level++) {
      const a = this.glows[2 * level]!;
      const b = this.glows[2 * level + 1]!;
      this.blurInto(from, a, 1 / a.width, 0, level === 0 ? 0.9 : 0);
      this.blurInto(a, b, 0, 1 / a.height, 0);
      from = b;
    }
    const u = this.finish.uniforms;
    u.picture!.value = this.sum.texture;
    u.glowA!.value = this.glows[1]!.texture;
    u.glowB!.value = this.glows[3]!.texture;
    u.glowC!.value = this.glows[5]!.texture;
    u.exposure!.value = shot.exposure;
    u.frame!.value = frame;
    this.draw(this.finish, null);
  }

  /**
   * Draws the coverage of the subject at `frame` to the canvas, white on black, with the same samples.
   * Points and whatever is marked `userData.veil` (thin cloud, smoke) cover nothing.
   */
  exposeMatte(shot: Shot, frame: number, samples: number): void {
    const white = new THREE.MeshBasicMaterial({ color: 0xffffff, side: THREE.DoubleSide });
    const black = new THREE.MeshBasicMaterial({ color: 0x000000, side: THREE.DoubleSide });
    const hidden: THREE.Object3D[] = [];
    const kept = new Map<THREE.Mesh, THREE.Material | THREE.Material[]>();
    const inSubject = new Set<THREE.Object3D>();
    shot.subject?.traverse((o) => inSubject.add(o));
    shot.scene.traverse((o) => {
      if (o.visible && (o instanceof THREE.Points || o.userData.veil === true)) {
        o.visible = false;
        hidden.push(o);
      }
      if (!(o instanceof THREE.Mesh)) return;
      const mesh = o as THREE.Mesh;
      kept.set(mesh, mesh.material);
      mesh.material = inSubject.has(mesh) ? white : black;
    });
    const { background, fog } = shot.scene;
    shot.scene.background = new THREE.Color(0);
    shot.scene.fog = null;
    this.renderer.shadowMap.enabled = false;
    this.accumulate(shot, frame, samples);
    this.renderer.shadowMap.enabled = true;
    shot.scene.background = background;
    shot.scene.fog = fog;
    for (const [mesh, material] of kept) mesh.material = material;
    for (const object of hidden) object.visible = true;
    this.copy.uniforms.picture!.value = this.sum.texture;
    this.draw(this.copy, null);
  }

  private accumulate(shot: Shot, frame: number, samples: number): void {
    this.renderer.setRenderTarget(this.sum);
    this.renderer.setClearColor(0, 1);
    this.renderer.clear();
    for (let s = 0; s < samples; s++) {
      shot.pose(frame + (samples > 1 ? shot.shutter * ((s + 0.5) / samples - 0.5) : 0));
      const { camera } = shot;
      const angle = 2 * Math.PI * halton(s + 1, 5);
      const radius = shot.lensRadius * Math.sqrt(halton(s + 1, 7));
      const dx = samples > 1 ? radius * Math.cos(angle) : 0;
      const dy = samples > 1 ? radius * Math.sin(angle) : 0;
      camera.translateX(dx);
      camera.translateY(dy);
      const metresToPixels = (FRAME_HEIGHT * this.scale) / (2 * shot.focus * Math.tan((camera.fov * Math.PI) / 360));
      const width = FRAME_WIDTH * this.scale;
      const height = FRAME_HEIGHT * this.scale;
      camera.setViewOffset(
        width,
        height,
        halton(s + 1, 2) - 0.5 - dx * metresToPixels,
        halton(s + 1, 3) - 0.5 + dy * metresToPixels,
        width,
        height,
      );
      camera.updateMatrixWorld();
      this.renderer.shadowMap.needsUpdate = s === 0; // shadows stand still while the shutter is open
      shot.beforeSample?.(this);
      this.renderer.setRenderTarget(this.target);
      this.renderer.setClearColor(0, 1);
      this.renderer.clear();
      this.renderer.render(shot.scene, camera);
      this.add.uniforms.picture!.value = this.target.texture;
      this.add.uniforms.weight!.value = 1 / samples;
      this.draw(this.add, this.sum);
    }
    shot.camera.clearViewOffset();
  }

  private blurInto(from: THREE.WebGLRenderTarget, to: THREE.WebGLRenderTarget, dx: number, dy: number, threshold: number): void {
    this.blur.uniforms.picture!.value = from.texture;
    (this.blur.uniforms.stride!.value as THREE.Vector2).set(dx, dy);
    this.blur.uniforms.threshold!.value = threshold;
    this.draw(this.blur, to);
  }

  private draw(material: THREE.ShaderMaterial, to: THREE.WebGLRenderTarget | null): void {
    this.quad.material = material;
    this.renderer.setRenderTarget(to);
    this.renderer.render(this.quad, this.flat);
  }
}

/** Where a world point lands in the 1280×720 picture, in pixels, pixel centres at +0.5. */
export function projectPoint(point: THREE.Vector3, camera: THREE.PerspectiveCamera): [number, number] {
  const p = point.clone().project(camera);
  const thousandth = (n: number): number => Math.round(n * 1000) / 1000;
  return [thousandth(((p.x + 1) / 2) * FRAME_WIDTH), thousandth(((1 - p.y) / 2) * FRAME_HEIGHT)];
}

/** Metal and varnish of `scene` mirror a lit room; clear glass only a little, or it turns to milk. */
export function mirrorRoom(scene: THREE.Scene, renderer: THREE.WebGLRenderer): void {
  const room = new THREE.PMREMGenerator(renderer).fromScene(new RoomEnvironment(), 0.06).texture;
  scene.environment = room;
  scene.environmentIntensity = 0.05;
  scene.traverse((o) => {
    if (!(o instanceof THREE.Mesh && o.material instanceof THREE.MeshStandardMaterial)) return;
    if (o.material.metalness <= 0.5 && !(o.material instanceof THREE.MeshPhysicalMaterial)) return;
    o.material.envMap = room;
    o.material.envMapIntensity = o.material.transparent ? 0.1 : 0.4;
  });
}
