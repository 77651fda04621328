import * as THREE from 'three';
import type { Shot } from '../parts/camera-film';
import { DOME_RADIUS, ground, makeDome, makeTree, nightSky } from '../parts/hill';
import { wander } from '../parts/noise';
import { windowBay } from '../parts/town';
import { materialOf, paint, plaster } from '../parts/surfaces';
import { put, slab } from '../parts/shapes';

const HILL_Z = -46;
const hillHeight = (x: number, z: number): number =>
  8 * Math.exp(-(((x - 1.5) / 17) ** 2) - (z / 19) ** 2) +
  2.2 * Math.exp(-(((x + 24) / 14) ** 2)) -
  0.05 * Math.max(0, z - 6) ** 1.25 +
  0.25 * Math.sin(x * 0.7 + z * 0.4);

/** The whole hill under a cloudy sky, the small dome on top, trees at the edges, the last houses of the town at its foot. */
export function hillWide(): Shot {
  const scene = new THREE.Scene();
  scene.background = new THREE.Color(0x070a12);
  scene.fog = new THREE.Fog(0x141c30, 30, 150);
  const camera = new THREE.PerspectiveCamera(34, 16 / 9, 0.3, 300);
  const sky = nightSky(150, 76, 0.85, [0.24, 0.16]);
  sky.mesh.position.set(0, 20, -112);
  const hill = ground(84, hillHeight, 191);
  hill.position.z = HILL_Z;
  const dome = makeDome();
  dome.body.position.set(1.5, hillHeight(1.5, 0) - 0.15, HILL_Z);
  dome.body.rotation.y = -0.12;
  scene.add(sky.mesh, hill, dome.body);
  const walls = [materialOf(plaster(193, [0.5, 0.4, 0.3]), 1, 1), materialOf(plaster(195, [0.42, 0.4, 0.38]), 1, 1)];
  const tiles = materialOf(paint(197, [0.3, 0.15, 0.1], [0.2, 0.12, 0.09], 0.2), 1, 1);
  const shutters = materialOf(paint(131, [0.13, 0.25, 0.27], [0.3, 0.22, 0.15], 0.5), 0.5, 1);
  for (const [x, z, w, h, lit] of [
    [-10.5, 17, 4.2, 3.6, true],
    [-5.6, 19, 3.4, 3, false],
    [9.4, 18, 4, 3.4, true],
    [14.2, 15.5, 3.6, 3.8, false],
    [4.2, 21, 3, 2.6, true],
  ] as const) {
    const y = hillHeight(x, z) - 0.6;
    const house = new THREE.Group();
    house.position.set(x, y, HILL_Z + z);
    house.rotation.y = 0.02 * x;
    put(house, slab(w, h, 3, 0.02), walls[lit ? 0 : 1]!, 0, h / 2, 0);
    const roof = put(house, new THREE.CylinderGeometry(1.2, 2.1, 1.3, 4, 1), tiles, 0, h + 0.62, 0);
    roof.rotation.y = Math.PI / 4;
    roof.scale.set(w / 2.6, 1, 1.1);
    put(house, slab(0.4, 1.4, 0.4), walls[1]!, 0.25 * w, h + 1.1, -0.3);
    for (const side of [-0.26, 0.26]) {
      const bay = windowBay(lit && side < 0, shutters, 5 + x);
      bay.scale.setScalar(0.62);
      bay.position.set(side * w, 0.55 * h, 1.52);
      house.add(bay);
    }
    scene.add(house);
  }
  for (const [x, z, height, seed] of [
    [-7.6, -12, 9.6, 21],
    [-10.2, -17, 9.4, 22],
    [8.2, -13, 10.4, 23],
    [11.4, -18, 11, 24],
    [-16, -30, 7.5, 25],
    [17, -31, 7.2, 26],
    [6.3, HILL_Z + 3, 3.4, 27],
    [-3.4, HILL_Z + 1.5, 2.9, 28],
    [-5.2, HILL_Z - 1, 3.6, 29],
  ] as const) {
    const tree = makeTree(height, seed);
    tree.position.set(x, hillHeight(x, z - HILL_Z) - 0.3 - (z > -20 ? 1.2 : 0), z);
    scene.add(tree);
  }
  const light = new THREE.DirectionalLight(0xa8bcff, 1.7);
  light.position.set(26, 22, -14);
  const front = new THREE.DirectionalLight(0x8fa8e8, 0.55);
  front.position.set(-8, 8, 12);
  scene.add(light, front, new THREE.HemisphereLight(0x6f88c8, 0x1c1c16, 1.0));
  return {
    name: 'hill-wide',
    frames: 120,
    scene,
    camera,
    subject: dome.body,
    shutter: 0.5,
    exposure: 1.2,
    focus: 40,
    lensRadius: 0,
    samplesAt: () => 2,
    pose(frame) {
      camera.position.set(0.08 * wander(frame, 38, 201), 3.6 + 0.06 * wander(frame, 33, 202), 3 - 0.006 * frame);
      camera.lookAt(0.2 + 0.2 * wander(frame, 44, 203), 6.6 + 0.15 * wander(frame, 39, 204), HILL_Z);
      sky.drift(frame);
    },
    points: () => {
      const at = (x: number, y: number, z: number): THREE.Vector3 => dome.body.localToWorld(new THREE.Vector3(x, y, z));
      return {
        'dome top': at(0, 2.26 + DOME_RADIUS, 0),
        'dome centre': at(0, 2.26, 0),
        'drum left': at(-DOME_RADIUS, 1.1, 0),
        'drum right': at(DOME_RADIUS, 1.1, 0),
      };
    },
  };
}
