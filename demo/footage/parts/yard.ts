import * as THREE from 'three';
import { keyLight } from './lights';
import { castShadows, put, slab, turned } from './shapes';
import { cobbles, materialOf, paint, plaster, upright, wood } from './surfaces';
import { streetLamp, windowBay } from './town';

/** The observatory's yard at night: cobbles, a plastered wall at z = −1.6 with a door and a lit window, barrels, a lamp. */
export function makeYard(): THREE.Scene {
  const scene = new THREE.Scene();
  scene.background = new THREE.Color(0x0b1322);
  const ground = put(scene, new THREE.PlaneGeometry(16, 9), materialOf(cobbles(3), 5, 3), 0, 0, 0.5);
  ground.rotation.x = -Math.PI / 2;
  put(scene, slab(14, 6, 0.5), materialOf(plaster(123, [0.5, 0.41, 0.31]), 2.4, 1.1), 0, 3, -1.85);
  put(scene, slab(14, 0.5, 0.08), materialOf(plaster(125, [0.36, 0.34, 0.33]), 3, 0.2), 0, 0.25, -1.58);
  const doorWood = upright(materialOf(wood(127, [0.42, 0.26, 0.15], [0.2, 0.11, 0.06]), 1, 0.2));
  for (let i = 0; i < 6; i++) put(scene, slab(0.2, 2.15, 0.06, 0.008), doorWood, -2.2 + 0.205 * i, 1.08, -1.56);
  for (const y of [0.4, 1.75]) put(scene, slab(1.24, 0.12, 0.05, 0.008), doorWood, -1.68, y, -1.51);
  put(scene, slab(1.5, 0.18, 0.16), materialOf(plaster(129, [0.45, 0.43, 0.4]), 0.5, 0.2), -1.68, 2.28, -1.55);
  const shutters = materialOf(paint(131, [0.13, 0.25, 0.27], [0.3, 0.22, 0.15], 0.5), 0.5, 1);
  const lit = windowBay(true, shutters, 4);
  lit.position.set(1.0, 1.95, -1.58);
  scene.add(lit);
  const barrelWood = upright(materialOf(wood(133, [0.4, 0.25, 0.14], [0.2, 0.11, 0.06]), 1, 3));
  const hoop = new THREE.MeshStandardMaterial({ color: 0x2c2a28, roughness: 0.5, metalness: 0.7 });
  for (const [x, z, s] of [
    [2.45, -1.1, 1],
    [3.1, -1.25, 0.9],
  ] as const) {
    const barrel = put(
      scene,
      turned([
        [0.001, 0.86],
        [0.25, 0.86],
        [0.26, 0.88],
        [0.33, 0.55],
        [0.34, 0.44],
        [0.33, 0.33],
        [0.26, 0],
        [0.001, 0],
      ]),
      barrelWood,
      x,
      0,
      z,
    );
    barrel.scale.setScalar(s);
    for (const [y, r] of [
      [0.16, 0.3],
      [0.72, 0.3],
    ] as const)
      put(barrel, new THREE.CylinderGeometry(r, r, 0.04, 40, 1, true), hoop, 0, y, 0);
  }
  const lamp = streetLamp();
  lamp.position.set(-3.1, 0, -0.9);
  lamp.traverse((o) => {
    if (o instanceof THREE.PointLight) o.intensity = 9;
  });
  scene.add(lamp);
  castShadows(scene);
  const key = keyLight(new THREE.SpotLight(0xffbe80, 95, 16, 0.75, 0.8, 1.7), [-3.4, 4.0, 3.4], [0.1, 0.4, -0.4], {
    radius: 4,
    bias: -0.001,
    normalBias: 0.01,
  });
  const moon = new THREE.DirectionalLight(0x8fb0ff, 0.9);
  moon.position.set(5, 6, 4);
  scene.add(key, key.target, moon, new THREE.HemisphereLight(0x7f98d0, 0x2c221a, 0.7));
  return scene;
}
