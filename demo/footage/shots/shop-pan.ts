import * as THREE from 'three';
import { RoundedBoxGeometry } from 'three/examples/jsm/geometries/RoundedBoxGeometry.js';
import type { Shot } from '../parts/camera-film';
import { clockStuff } from '../parts/clocks';
import { seededRandom, wander } from '../parts/noise';
import { SHELF_HEIGHTS, shelfWall } from '../parts/shelf-wall';
import { materialOf, wood } from '../parts/surfaces';

/** Along the shelves of clocks in the mender's shop. */
export function shopPan(): Shot {
  const scene = new THREE.Scene();
  scene.background = new THREE.Color(0x080604);
  const camera = new THREE.PerspectiveCamera(33, 16 / 9, 0.05, 30);
  const random = seededRandom(311);

  const timber = wood(35, [0.4, 0.23, 0.12], [0.2, 0.1, 0.055]);
  const clocks = shelfWall(scene, clockStuff(), timber, random);
  // the worktop in front, out of focus: bottle, lamp, jar
  const counter = new THREE.Mesh(new RoundedBoxGeometry(8, 0.08, 0.5, 2, 0.02), materialOf(timber, 3, 0.4));
  counter.position.set(1, 0.76, 1.2);
  scene.add(counter);
  const bottle = (x: number, colour: number): void => {
    const profile = [
      [0.001, 0],
      [0.06, 0],
      [0.065, 0.02],
      [0.065, 0.13],
      [0.05, 0.17],
      [0.02, 0.2],
      [0.02, 0.26],
      [0.025, 0.265],
    ].map(([r, y]) => new THREE.Vector2(r, y));
    const mesh = new THREE.Mesh(
      new THREE.LatheGeometry(profile, 40),
      new THREE.MeshPhysicalMaterial({ color: colour, roughness: 0.12, clearcoat: 1 }),
    );
    mesh.position.set(x, 0.8, 1.25);
    scene.add(mesh);
  };
  bottle(-0.75, 0x3a1210);
  bottle(0.62, 0x12301f);
  bottle(1.62, 0x4a2a10);
  const lamps: [number, number][] = [
    [-0.5, 1.9],
    [1.35, 1.85],
  ];
  for (const [x, z] of lamps) {
    const light = new THREE.SpotLight(0xffbd78, 42, 7, 0.95, 0.8, 1.6);
    light.position.set(x, 3.0, z);
    light.target.position.set(x + 0.25, 1.15, -0.3);
    light.castShadow = true;
    light.shadow.mapSize.set(1024, 1024);
    light.shadow.radius = 5;
    light.shadow.bias = -0.0015;
    light.shadow.normalBias = 0.01;
    scene.add(light, light.target);
  }
  const window = new THREE.DirectionalLight(0x7f9fe0, 0.9); // the street's blue from the left
  window.position.set(-5, 3, 3);
  scene.add(window, new THREE.HemisphereLight(0x8a94b0, 0x3a2818, 0.55));
  const low = new THREE.PointLight(0xff9a50, 1.6, 3, 1.8);
  low.position.set(2.3, 0.95, 0.6);
  scene.add(low);
  scene.traverse((o) => {
    if (o instanceof THREE.Mesh && o.material instanceof THREE.MeshStandardMaterial && !o.material.transparent)
      o.castShadow = o.receiveShadow = true;
  });
  return {
    name: 'shop-pan',
    frames: 120,
    scene,
    camera,
    subject: null,
    shutter: 0.5,
    exposure: 1.0,
    focus: 2.35,
    lensRadius: 0.008,
    samplesAt: () => 4,
    pose(frame) {
      const t = frame / 119;
      const x = -0.5 + 1.45 * (t + 0.08 * Math.sin(2 * Math.PI * t));
      camera.position.set(x + 0.008 * wander(frame, 31, 11), 1.36 + 0.012 * wander(frame, 27, 12), 2.4 - 0.15 * t);
      camera.lookAt(x + 0.12 + 0.02 * wander(frame, 36, 13), 1.38 + 0.015 * wander(frame, 33, 14), -0.2);
      for (const clock of clocks) clock.tick(frame / 24);
    },
    points: () => ({
      'shelf left end': new THREE.Vector3(-0.55, SHELF_HEIGHTS[1], 0.1),
      'shelf right end': new THREE.Vector3(1.5, SHELF_HEIGHTS[1], 0.1),
    }),
  };
}
