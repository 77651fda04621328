import * as THREE from 'three';
import { RoundedBoxGeometry } from 'three/examples/jsm/geometries/RoundedBoxGeometry.js';
import { materialOf, paint, wood } from './surfaces';

/** A tram whose rear end is at x = 0 and whose front points to −x; its near flank lies in z = 0, the far one at −2.1. */
export function makeTram(): { readonly body: THREE.Group; readonly length: number } {
  const length = 8.2;
  const depth = 2.1;
  const body = new THREE.Group();
  const red = materialOf(paint(61, [0.46, 0.11, 0.075], [0.25, 0.22, 0.2], 0.62), 0.35, 0.35);
  const cream = materialOf(paint(67, [0.72, 0.62, 0.43], [0.34, 0.18, 0.12], 0.55), 0.35, 0.35);
  const dark = new THREE.MeshStandardMaterial({ color: 0x1d1a18, roughness: 0.5, metalness: 0.5 });
  const trim = new THREE.MeshStandardMaterial({ color: 0xb88a45, roughness: 0.3, metalness: 0.85 });
  const timber = materialOf(wood(71, [0.45, 0.26, 0.13], [0.26, 0.13, 0.07]), 1, 1);
  const add = (w: number, h: number, d: number, x: number, y: number, z: number, material: THREE.Material, round = 0.03): THREE.Mesh => {
    const mesh = new THREE.Mesh(new RoundedBoxGeometry(w, h, d, 3, Math.min(round, w / 2.1, h / 2.1, d / 2.1)), material);
    mesh.position.set(x, y, z);
    body.add(mesh);
    return mesh;
  };
  const mid = -length / 2;
  add(length, 1.12, depth, mid, 0.86, -depth / 2, red, 0.16); // lower flank
  add(length - 0.1, 0.3, depth - 0.1, mid, 0.2, -depth / 2, dark);
  add(length, 0.1, depth + 0.04, mid, 1.4, -depth / 2, trim, 0.04);
  add(length, 0.05, depth + 0.03, mid, 0.62, -depth / 2, trim, 0.02);
  add(length, 0.9, depth, mid, 2.95, -depth / 2, cream, 0.2); // roof board
  add(length, 0.06, depth + 0.04, mid, 2.5, -depth / 2, trim, 0.02);
  // posts between the windows, near and far flank; the ends have theirs too
  const bays = 6;
  for (let i = 0; i <= bays; i++) {
    const x = -0.11 - (i * (length - 0.22)) / bays;
    const width = i === 0 || i === bays ? 0.22 : 0.15;
    for (const z of [-0.05, -depth + 0.05]) add(width, 1.2, 0.1, x, 1.98, z, cream, 0.04);
  }
  for (const x of [-0.06, -length + 0.06]) {
    add(0.1, 1.2, 0.14, x, 1.98, -depth / 2, cream, 0.04);
    add(0.06, 1.15, 0.95, x, 1.98, -depth / 4 - 0.02, dark, 0.02);
    add(0.06, 1.15, 0.95, x, 1.98, (-3 * depth) / 4 + 0.02, dark, 0.02);
  }
  // inside: a boarded far wall with lit blinds, so that nobody sees the street through the tram
  add(length - 0.3, 1.25, 0.05, mid, 1.98, -depth + 0.16, timber, 0.01);
  const lit = new THREE.MeshBasicMaterial({ color: new THREE.Color(1.15, 0.74, 0.36) });
  for (let i = 0; i < bays; i++) {
    const x = -0.11 - ((i + 0.5) * (length - 0.22)) / bays;
    const blind = new THREE.Mesh(new THREE.PlaneGeometry(0.9, 0.62), new THREE.MeshStandardMaterial({ color: 0xcaa268, roughness: 0.8 }));
    blind.position.set(x, 2.12, -depth + 0.2);
    body.add(blind);
    add(0.95, 0.75, 0.12, x, 1.5, -depth + 0.4, red, 0.06); // seat back
    const bulb = new THREE.Mesh(new THREE.SphereGeometry(0.055, 16, 12), lit);
    bulb.position.set(x, 2.44, -depth / 2);
    body.add(bulb);
    if (i % 2 === 0) {
      const lamp = new THREE.PointLight(0xffb765, 3.4, 3.2, 1.5);
      lamp.position.set(x, 2.3, -depth / 2);
      body.add(lamp);
    }
    const glass = new THREE.Mesh(
      new THREE.PlaneGeometry(1.2, 1.1),
      new THREE.MeshStandardMaterial({ color: 0x1a2024, transparent: true, opacity: 0.18, roughness: 0.3, depthWrite: false }),
    );
    glass.position.set(x, 1.98, -0.03);
    body.add(glass);
  }
  // two riders
  for (const [x, tone] of [
    [-2.6, 0x2a3a44],
    [-5.3, 0x4a3a2a],
  ] as const) {
    const coat = new THREE.MeshStandardMaterial({ color: tone, roughness: 0.9 });
    add(0.46, 0.62, 0.3, x, 1.66, -0.95, coat, 0.14);
    const head = new THREE.Mesh(
      new THREE.SphereGeometry(0.13, 32, 24),
      new THREE.MeshStandardMaterial({ color: 0xb98a68, roughness: 0.8 }),
    );
    head.position.set(x - 0.02, 2.12, -0.95);
    const hat = new THREE.Mesh(new THREE.CylinderGeometry(0.12, 0.14, 0.12, 32), coat);
    hat.position.set(x - 0.02, 2.24, -0.95);
    body.add(head, hat);
  }
  const tail = new THREE.Mesh(
    new THREE.SphereGeometry(0.09, 24, 16),
    new THREE.MeshBasicMaterial({ color: new THREE.Color(2.4, 0.25, 0.12) }),
  );
  tail.position.set(0.02, 1.0, -0.5);
  body.add(tail);
  return { body, length };
}
