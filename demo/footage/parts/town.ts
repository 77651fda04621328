import * as THREE from 'three';
import { seededRandom } from './noise';
import { RoundedBoxGeometry } from 'three/examples/jsm/geometries/RoundedBoxGeometry.js';

/** A lit pane: brighter low down by the lamp, lace at the sides, old glass. */
export function litPane(seed: number, strength: number): THREE.MeshBasicMaterial {
  const canvas = document.createElement('canvas');
  canvas.width = 128;
  canvas.height = 192;
  const g = canvas.getContext('2d')!;
  const glow = g.createRadialGradient(64 + 20 * Math.sin(seed), 120, 4, 64, 110, 130);
  glow.addColorStop(0, '#ffd08a');
  glow.addColorStop(0.45, '#d98a45');
  glow.addColorStop(1, '#5c2c14');
  g.fillStyle = glow;
  g.fillRect(0, 0, 128, 192);
  const random = seededRandom(seed);
  for (const side of [0, 1]) {
    for (let i = 0; i < 9; i++) {
      g.fillStyle = `rgba(60, 26, 10, ${0.16 + 0.2 * random()})`;
      const x = side === 0 ? i * 4 : 124 - i * 4;
      g.fillRect(x, 0, 3, 192 - 4 * i + 12 * random());
    }
  }
  g.fillStyle = 'rgba(50, 22, 10, 0.5)';
  g.fillRect(78, 150, 16, 42); // something on the sill
  g.beginPath();
  g.arc(86, 140, 15, 0, 7);
  g.fill();
  const texture = new THREE.CanvasTexture(canvas);
  texture.colorSpace = THREE.SRGBColorSpace;
  return new THREE.MeshBasicMaterial({ map: texture, color: new THREE.Color(strength, strength, strength) });
}

/** A shuttered window on a facade that faces +z, 1.1 × 1.5 m around the origin; lit ones glow warm behind a bar. */
export function windowBay(lit: boolean, shutters: THREE.Material, seed = 1): THREE.Group {
  const group = new THREE.Group();
  const frame = new THREE.MeshStandardMaterial({ color: 0x6b5a48, roughness: 0.7 });
  const pane = lit ? litPane(seed, 0.95) : new THREE.MeshStandardMaterial({ color: 0x10161f, roughness: 0.12, metalness: 0.2 });
  const add = (w: number, h: number, d: number, x: number, y: number, z: number, material: THREE.Material): void => {
    const mesh = new THREE.Mesh(new RoundedBoxGeometry(w, h, d, 1, 0.012), material);
    mesh.position.set(x, y, z);
    group.add(mesh);
  };
  const glass = new THREE.Mesh(new THREE.PlaneGeometry(1, 1.5), pane);
  glass.position.z = 0.01;
  group.add(glass);
  for (const x of [-0.5, 0, 0.5]) add(0.07, 1.56, 0.09, x, 0, 0.03, frame);
  for (const y of [-0.76, 0.15, 0.76]) add(1.06, 0.07, 0.09, 0, y, 0.03, frame);
  add(1.3, 0.09, 0.22, 0, -0.86, 0.08, frame);
  for (const side of [-1, 1]) {
    add(0.5, 1.56, 0.05, side * 0.8, 0, 0.05, shutters);
    for (let i = 0; i < 9; i++) add(0.4, 0.05, 0.03, side * 0.8, -0.62 + i * 0.155, 0.08, shutters);
  }
  return group;
}

/** A cast-iron lamp with a glowing lantern at 3.4 m and its light. */
export function streetLamp(): THREE.Group {
  const group = new THREE.Group();
  const iron = new THREE.MeshStandardMaterial({ color: 0x1b1d1c, roughness: 0.45, metalness: 0.6 });
  const profile = [
    [0.16, 0],
    [0.16, 0.12],
    [0.09, 0.2],
    [0.1, 0.6],
    [0.055, 0.7],
    [0.04, 2.9],
    [0.07, 2.95],
    [0.04, 3.02],
    [0.04, 3.1],
  ].map(([r, y]) => new THREE.Vector2(r, y));
  group.add(new THREE.Mesh(new THREE.LatheGeometry(profile, 32), iron));
  const lantern = new THREE.Mesh(
    new THREE.CylinderGeometry(0.19, 0.12, 0.4, 6),
    new THREE.MeshBasicMaterial({ color: new THREE.Color(4.2, 2.5, 1.05) }),
  );
  lantern.position.y = 3.32;
  const cap = new THREE.Mesh(new THREE.ConeGeometry(0.27, 0.2, 6), iron);
  cap.position.y = 3.62;
  group.add(lantern, cap);
  for (let i = 0; i < 6; i++) {
    const bar = new THREE.Mesh(new THREE.BoxGeometry(0.02, 0.44, 0.02), iron);
    const angle = (i * Math.PI) / 3;
    bar.position.set(0.165 * Math.sin(angle), 3.32, 0.165 * Math.cos(angle));
    group.add(bar);
  }
  const light = new THREE.PointLight(0xffb15e, 26, 14, 1.7);
  light.position.y = 3.3;
  light.position.z = 0.3;
  group.add(light);
  return group;
}
