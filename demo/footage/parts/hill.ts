import * as THREE from 'three';
import { fractal, seededRandom, tileNoise } from './noise';
import { castShadows, put, slab, turned } from './shapes';
import { brass, materialOf, paint, plaster } from './surfaces';

const NOISE_GLSL = `
float hash(vec2 p) { vec3 q = fract(vec3(p.xyx) * 0.1031); q += dot(q, q.yzx + 33.33); return fract((q.x + q.y) * q.z); }
float soft(vec2 p) { vec2 i = floor(p), f = fract(p); f = f * f * (3.0 - 2.0 * f);
  return mix(mix(hash(i), hash(i + vec2(1, 0)), f.x), mix(hash(i + vec2(0, 1)), hash(i + vec2(1, 1)), f.x), f.y); }
float cloud(vec2 p) { float s = 0.0, w = 0.5; for (int i = 0; i < 6; i++) { s += w * soft(p); p = p * 2.03 + vec2(13.1, 7.7); w *= 0.52; } return s; }`;

export interface Sky {
  readonly mesh: THREE.Mesh;
  /** Moves the cloud to `frame`. */
  drift(frame: number): void;
}

/**
 * A night sky on a far plane of `width` × `height` metres that faces +z at the origin.
 * @param cover how much cloud, 0..1; @param glow where the light behind the clouds is, −0.5…0.5 of the plane
 */
export function nightSky(width: number, height: number, cover: number, glow: readonly [number, number]): Sky {
  const material = new THREE.ShaderMaterial({
    depthWrite: false,
    uniforms: {
      time: { value: 0 },
      cover: { value: cover },
      glow: { value: new THREE.Vector2(...glow) },
      size: { value: new THREE.Vector2(width, height) },
    },
    vertexShader: 'varying vec2 at; void main() { at = uv - 0.5; gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }',
    fragmentShader: `varying vec2 at; uniform float time, cover; uniform vec2 glow, size; ${NOISE_GLSL}
void main() {
  float up = at.y + 0.5;
  vec3 c = mix(vec3(0.075, 0.082, 0.13), vec3(0.012, 0.022, 0.062), smoothstep(0.0, 0.8, up));
  vec2 g = (at - glow) * size / size.y;
  float near = exp(-9.0 * dot(g, g));
  c += vec3(0.05, 0.06, 0.085) * near;
  vec2 cell = floor(at * size * 3.4), inside = fract(at * size * 3.4) - 0.5;
  float pick = hash(cell + 5.0);
  vec2 place = 0.7 * (vec2(hash(cell + 1.0), hash(cell + 2.0)) - 0.5);
  float star = smoothstep(0.16, 0.0, length(inside - place)) * step(0.88, pick) * (0.25 + 2.2 * pow(hash(cell + 9.0), 8.0));
  vec2 p = at * size / size.y * 2.6 + vec2(0.004 * time, 0.0);
  float n = cloud(p * vec2(1.0, 1.9) + 0.5 * cloud(p + vec2(0.0015 * time, 3.0)));
  float thick = smoothstep(0.72 - 0.42 * cover, 1.0 - 0.3 * cover, n);
  float lit = smoothstep(0.0, 0.5, thick) * (1.0 - 0.55 * thick);
  c += star * vec3(0.9, 0.95, 1.1) * (1.0 - smoothstep(0.0, 0.35, thick)) * smoothstep(0.02, 0.3, up);
  vec3 body = vec3(0.05, 0.058, 0.085) + lit * vec3(0.12, 0.13, 0.16) * (0.35 + 1.9 * near);
  gl_FragColor = vec4(mix(c, body, 0.85 * thick), 1.0);
}`,
  });
  const mesh = new THREE.Mesh(new THREE.PlaneGeometry(width, height), material);
  mesh.renderOrder = -2;
  return {
    mesh,
    drift(frame) {
      material.uniforms.time!.value = frame;
    },
  };
}

/** Thin cloud on a plane of `width` × `height` metres that faces +z; covers nothing in a matte. */
export function thinCloud(width: number, height: number, seed: number): Sky {
  const material = new THREE.ShaderMaterial({
    transparent: true,
    depthWrite: false,
    uniforms: { time: { value: 0 }, seed: { value: seed }, size: { value: new THREE.Vector2(width, height) } },
    vertexShader: 'varying vec2 at; void main() { at = uv - 0.5; gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }',
    fragmentShader: `varying vec2 at; uniform float time, seed; uniform vec2 size; ${NOISE_GLSL}
void main() {
  vec2 p = at * size / size.y * 3.0 + vec2(seed + 0.0085 * time, seed);
  float n = cloud(p * vec2(0.8, 2.6) + 0.8 * cloud(p * 0.7 + vec2(0.002 * time, 2.0)));
  float thick = smoothstep(0.52, 0.95, n) * smoothstep(0.5, 0.2, abs(at.y));
  gl_FragColor = vec4(vec3(0.17, 0.18, 0.22), 0.8 * thick);
}`,
  });
  const mesh = new THREE.Mesh(new THREE.PlaneGeometry(width, height), material);
  mesh.userData.veil = true;
  return {
    mesh,
    drift(frame) {
      material.uniforms.time!.value = frame;
    },
  };
}

/** A full moon of `radius` facing +z: seas, craters and rays. */
export function makeMoon(radius: number): THREE.Mesh<THREE.BufferGeometry, THREE.Material> {
  const size = 768;
  const data = new Uint8Array(size * size * 4);
  const random = seededRandom(57);
  const craters = Array.from({ length: 150 }, () => {
    const angle = 2 * Math.PI * random();
    const reach = Math.sqrt(random());
    return { x: reach * Math.cos(angle), y: reach * Math.sin(angle), r: 0.012 + 0.085 * random() ** 4, bright: random() < 0.2 };
  });
  for (let j = 0, i = 0; j < size; j++) {
    for (let k = 0; k < size; k++, i += 4) {
      const x = (2 * (k + 0.5)) / size - 1;
      const y = (2 * (j + 0.5)) / size - 1;
      const [u, v] = [0.5 + x / 2, 0.5 + y / 2];
      const seas = fractal(u, v, 3, 5, 61);
      const sea = Math.max(0, Math.min(1, (seas - 0.47) / 0.1));
      let tone = 0.86 - 0.3 * sea + 0.12 * (fractal(u, v, 24, 4, 67) - 0.5);
      for (const c of craters) {
        const d = Math.sqrt((x - c.x) ** 2 + (y - c.y) ** 2) / c.r;
        if (d < 1) tone -= 0.07 * (1 - d * d) - (c.bright ? 0.15 : 0);
        else if (d < 1.4) tone += 0.07 * (1.4 - d);
        if (c.bright && d < 9) tone += 0.1 * Math.exp(-d / 3) * tileNoise(Math.atan2(y - c.y, x - c.x) * 5 + 40, 3, 64, 71);
      }
      const limb = 1 - 0.22 * (x * x + y * y) ** 2;
      const t = Math.max(0, Math.min(1, tone * limb));
      data.set([255 * t, 250 * t, 232 * t, 255].map(Math.round), i);
    }
  }
  const map = new THREE.DataTexture(data, size, size);
  map.colorSpace = THREE.SRGBColorSpace;
  map.magFilter = THREE.LinearFilter;
  map.minFilter = THREE.LinearMipmapLinearFilter;
  map.generateMipmaps = true;
  map.needsUpdate = true;
  return new THREE.Mesh(
    new THREE.CircleGeometry(radius, 128),
    new THREE.MeshBasicMaterial({ map, color: new THREE.Color(1.25, 1.22, 1.12) }),
  );
}

export interface Dome {
  /** Stands on y = 0 at the origin, the slit towards +z; 4.4 m across, 4.6 m tall. */
  readonly body: THREE.Group;
  /** The turning half-sphere with the slit; its centre is its origin. */
  readonly cap: THREE.Group;
}

export const DOME_RADIUS = 2.2;

/** The observatory: a drum of pale stone under a ribbed copper half-sphere whose slit stands open, a lamp lit within. */
export function makeDome(): Dome {
  const body = new THREE.Group();
  const stone = materialOf(plaster(151, [0.62, 0.58, 0.52]), 3, 0.7);
  const copper = materialOf(paint(153, [0.25, 0.37, 0.34], [0.42, 0.28, 0.17], 0.5), 3, 1.2, { metalness: 0.35, side: THREE.DoubleSide });
  const trim = materialOf(plaster(155, [0.5, 0.47, 0.43]), 3, 0.2);
  const gold = materialOf(brass(157), 1, 1, { metalness: 0.9 });
  put(body, new THREE.CylinderGeometry(DOME_RADIUS, DOME_RADIUS + 0.05, 2.2, 72), stone, 0, 1.1, 0);
  put(
    body,
    turned(
      [
        [2.22, 0],
        [2.4, 0],
        [2.4, 0.22],
        [2.27, 0.3],
      ],
      72,
    ),
    trim,
  );
  put(
    body,
    turned(
      [
        [2.2, 2.05],
        [2.34, 2.1],
        [2.36, 2.24],
        [2.2, 2.28],
      ],
      72,
    ),
    trim,
  );
  const dark = new THREE.MeshStandardMaterial({ color: 0x11100e, roughness: 0.8 });
  const door = put(body, slab(0.72, 1.5, 0.1), materialOf(paint(159, [0.3, 0.13, 0.08], [0.3, 0.2, 0.12], 0.5)), 0.75, 0.8, 2.12);
  door.rotation.y = 0.34;
  for (const angle of [-0.62, -0.2, 0.95, 1.4]) {
    const frame = new THREE.Group();
    frame.rotation.y = angle;
    const lit = angle === -0.2;
    put(frame, slab(0.42, 0.72, 0.08), trim, 0, 1.3, DOME_RADIUS + 0.01);
    put(
      frame,
      slab(0.3, 0.58, 0.06),
      lit ? new THREE.MeshBasicMaterial({ color: new THREE.Color(1.5, 0.85, 0.35) }) : dark,
      0,
      1.3,
      DOME_RADIUS + 0.04,
    );
    put(frame, slab(0.03, 0.58, 0.04), trim, 0, 1.3, DOME_RADIUS + 0.07);
    put(frame, slab(0.3, 0.03, 0.04), trim, 0, 1.3, DOME_RADIUS + 0.07);
    body.add(frame);
  }
  const cap = new THREE.Group();
  cap.position.y = 2.26;
  body.add(cap);
  // the slit reaches from the rim to the top
  const slit = 0.2;
  const shell = new THREE.SphereGeometry(DOME_RADIUS, 96, 40, Math.PI / 2 + slit, 2 * Math.PI - 2 * slit, 0, Math.PI / 2);
  put(cap, shell, copper);
  for (let i = 1; i < 24; i++) {
    const angle = slit + ((2 * Math.PI - 2 * slit) * i) / 24;
    const rib = new THREE.Mesh(new THREE.TorusGeometry(DOME_RADIUS + 0.005, 0.022, 6, 40, Math.PI / 2), copper);
    rib.rotation.y = -angle + Math.PI / 2;
    cap.add(rib);
  }
  for (const side of [-1, 1]) {
    const edge = new THREE.Mesh(new THREE.TorusGeometry(DOME_RADIUS + 0.02, 0.06, 8, 48, Math.PI * 0.52), copper);
    edge.rotation.y = -Math.PI / 2;
    edge.position.x = side * DOME_RADIUS * Math.sin(slit);
    edge.scale.set(Math.cos(slit), Math.cos(slit), 1);
    cap.add(edge);
  }
  put(
    cap,
    turned(
      [
        [2.2, -0.06],
        [2.3, -0.04],
        [2.3, 0.06],
        [2.2, 0.1],
      ],
      72,
    ),
    copper,
  );
  // within: lit walls and the telescope looking out
  put(
    cap,
    new THREE.SphereGeometry(2.1, 48, 24, 0, 2 * Math.PI, 0, Math.PI / 2),
    new THREE.MeshBasicMaterial({ color: new THREE.Color(0.3, 0.14, 0.05), side: THREE.BackSide }),
  );
  const telescope = new THREE.Group();
  put(
    telescope,
    new THREE.CylinderGeometry(0.24, 0.2, 3.1, 40),
    materialOf(paint(161, [0.08, 0.13, 0.14], [0.4, 0.3, 0.2], 0.7)),
    0,
    0.9,
    0,
  );
  put(
    telescope,
    turned(
      [
        [0.245, 2.2],
        [0.275, 2.22],
        [0.275, 2.46],
        [0.24, 2.47],
      ],
      40,
    ),
    gold,
  );
  put(
    telescope,
    turned(
      [
        [0.225, 1.1],
        [0.26, 1.12],
        [0.26, 1.22],
        [0.225, 1.24],
      ],
      40,
    ),
    gold,
  );
  telescope.rotation.x = 0.72;
  telescope.position.y = 0.15;
  cap.add(telescope);
  const lamp = new THREE.PointLight(0xff9a48, 7, 5, 1.6);
  lamp.position.set(0.4, 0.6, 0.9);
  cap.add(lamp);
  castShadows(body);
  return { body, cap };
}

/** Ragged tree against the sky: trunk, boughs and clumps of leaves, about `height` metres tall. */
export function makeTree(height: number, seed: number): THREE.Group {
  const tree = new THREE.Group();
  const random = seededRandom(seed);
  const bark = new THREE.MeshStandardMaterial({ color: 0x2a211b, roughness: 0.95 });
  const trunk = put(tree, new THREE.CylinderGeometry(0.02 * height, 0.045 * height, 0.6 * height, 10), bark, 0, 0.3 * height, 0);
  trunk.rotation.z = 0.06 * (random() - 0.5);
  const leaf = new THREE.Shape();
  leaf.moveTo(0, 0);
  leaf.quadraticCurveTo(0.5, 0.35, 0, 1);
  leaf.quadraticCurveTo(-0.5, 0.35, 0, 0);
  const count = 2600;
  const leaves = new THREE.InstancedMesh(
    new THREE.ShapeGeometry(leaf, 3),
    new THREE.MeshStandardMaterial({ color: 0x33402c, roughness: 0.8, side: THREE.DoubleSide }),
    count,
  );
  const clumps = Array.from({ length: 26 }, () => {
    const angle = 2 * Math.PI * random();
    const y = 0.42 + 0.5 * random();
    const reach = 0.3 * Math.sin(Math.PI * Math.min(1, (y - 0.3) / 0.72)) * Math.sqrt(random());
    return new THREE.Vector3(reach * Math.cos(angle), y, reach * Math.sin(angle)).multiplyScalar(height);
  });
  for (const at of clumps) {
    const bough = put(tree, new THREE.CylinderGeometry(0.005 * height, 0.012 * height, at.length() * 0.6, 6), bark);
    const from = new THREE.Vector3(0, 0.62 * at.y, 0);
    bough.position.copy(from).lerp(at, 0.5);
    bough.quaternion.setFromUnitVectors(new THREE.Vector3(0, 1, 0), at.clone().sub(from).normalize());
    bough.scale.y = at.distanceTo(from) / (at.length() * 0.6);
  }
  const m = new THREE.Object3D();
  for (let i = 0; i < count; i++) {
    const clump = clumps[i % clumps.length]!;
    const away = new THREE.Vector3(random() - 0.5, random() - 0.5, random() - 0.5)
      .normalize()
      .multiplyScalar(0.115 * height * Math.cbrt(random()));
    m.position.copy(clump).add(away);
    m.rotation.set(6.3 * random(), 6.3 * random(), 6.3 * random());
    m.scale.setScalar(height * (0.016 + 0.016 * random()));
    m.updateMatrix();
    leaves.setMatrixAt(i, m.matrix);
    const tone = 0.5 + 0.7 * random();
    leaves.setColorAt(i, new THREE.Color(tone, tone, 0.9 * tone));
  }
  tree.add(leaves);
  return tree;
}

/** Grassy ground whose height at (x, z) is `heightAt`; `size` metres square about the origin. */
export function ground(size: number, heightAt: (x: number, z: number) => number, seed: number): THREE.Mesh {
  const cells = 110;
  const geometry = new THREE.PlaneGeometry(size, size, cells, cells);
  geometry.rotateX(-Math.PI / 2);
  const at = geometry.attributes.position!;
  const colours = new Float32Array(at.count * 3);
  for (let i = 0; i < at.count; i++) {
    const [x, z] = [at.getX(i), at.getZ(i)];
    at.setY(i, heightAt(x, z));
    const n = fractal(x / size + 0.5, z / size + 0.5, 9, 5, seed);
    const bare = Math.max(0, Math.min(1, (n - 0.55) / 0.12));
    colours.set([0.1 + 0.09 * bare + 0.05 * n, 0.12 + 0.04 * bare + 0.06 * n, 0.07 + 0.04 * bare], 3 * i);
  }
  geometry.setAttribute('color', new THREE.BufferAttribute(colours, 3));
  geometry.computeVertexNormals();
  const grass = materialOf(plaster(seed + 3, [0.8, 0.8, 0.8]), size / 3, size / 3, { vertexColors: true });
  grass.map = null; // the relief of rough plaster, not its stains
  const mesh = new THREE.Mesh(geometry, grass);
  mesh.receiveShadow = true;
  return mesh;
}

/** The dome on its lawn under a clear sky, lit by the moon from the right; puts them into `scene`. */
export function domeSet(scene: THREE.Scene): { readonly sky: Sky; readonly dome: Dome } {
  const sky = nightSky(110, 62, 0.0, [0.3, 0.1]);
  sky.mesh.position.set(0, 22, -80);
  const dome = makeDome();
  const lawn = ground(30, (x, z) => -0.024 * Math.sqrt(x * x + z * z) + 0.02 * Math.sin(2 * x + z), 211);
  scene.add(sky.mesh, lawn, dome.body);
  const moon = new THREE.DirectionalLight(0xb4c6ff, 2.1);
  moon.position.set(9, 9, 3);
  moon.castShadow = true;
  moon.shadow.mapSize.set(1024, 1024);
  moon.shadow.camera.left = moon.shadow.camera.bottom = -5;
  moon.shadow.camera.right = moon.shadow.camera.top = 6;
  moon.shadow.bias = -0.002;
  moon.shadow.normalBias = 0.03;
  scene.add(moon, new THREE.HemisphereLight(0x6f88c8, 0x1c1c16, 0.8));
  return { sky, dome };
}
