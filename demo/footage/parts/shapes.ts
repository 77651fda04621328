import * as THREE from 'three';
import { RoundedBoxGeometry } from 'three/examples/jsm/geometries/RoundedBoxGeometry.js';

/** Puts `geometry` into `parent` at x, y, z. */
export function put(
  parent: THREE.Object3D,
  geometry: THREE.BufferGeometry,
  material: THREE.Material,
  x = 0,
  y = 0,
  z = 0,
): THREE.Mesh<THREE.BufferGeometry, THREE.Material> {
  const mesh = new THREE.Mesh(geometry, material);
  mesh.position.set(x, y, z);
  parent.add(mesh);
  return mesh;
}

/** A box with edges rounded by `round` metres, as far as its size allows. */
export function slab(width: number, height: number, depth: number, round = 0.01): THREE.BufferGeometry {
  return new RoundedBoxGeometry(width, height, depth, 3, Math.min(round, width / 2.1, height / 2.1, depth / 2.1));
}

/** A body of revolution about y through [radius, height] pairs. */
export function turned(profile: readonly (readonly [number, number])[], around = 40): THREE.BufferGeometry {
  return new THREE.LatheGeometry(
    profile.map(([r, y]) => new THREE.Vector2(r, y)),
    around,
  );
}

/** A tube of `radius` along a smooth line through `points`. */
export function tube(points: readonly (readonly [number, number, number])[], radius: number, steps = 48): THREE.BufferGeometry {
  const path = new THREE.CatmullRomCurve3(points.map(([x, y, z]) => new THREE.Vector3(x, y, z)));
  return new THREE.TubeGeometry(path, steps, radius, 10);
}

/** Everything solid under `object` throws and takes shadows; what shines of itself or is clear does not. */
export function castShadows(object: THREE.Object3D): void {
  object.traverse((o) => {
    if (o instanceof THREE.Mesh && o.material instanceof THREE.MeshStandardMaterial && !o.material.transparent)
      o.castShadow = o.receiveShadow = true;
  });
}

/** Points on the circle of `radius` about `centre` in the plane of `right` and `up`, named `name 0`, `name 1`, … clockwise from the top. */
export function rimPoints(name: string, count: number, object: THREE.Object3D, radius: number): Record<string, THREE.Vector3> {
  return Object.fromEntries(
    Array.from({ length: count }, (_, i) => {
      const angle = (2 * Math.PI * i) / count;
      return [`${name} ${i}`, object.localToWorld(new THREE.Vector3(radius * Math.sin(angle), radius * Math.cos(angle), 0))];
    }),
  );
}

/** The corners of a `width` × `height` rectangle about the origin of `object`, in its x and y: top left, then clockwise. */
export function cornerPoints(name: string, object: THREE.Object3D, width: number, height: number): Record<string, THREE.Vector3> {
  const signs = [
    [-1, 1],
    [1, 1],
    [1, -1],
    [-1, -1],
  ] as const;
  return Object.fromEntries(
    signs.map(([sx, sy], i) => [`${name} corner ${i}`, object.localToWorld(new THREE.Vector3((sx * width) / 2, (sy * height) / 2, 0))]),
  );
}
