import * as THREE from 'three';
import { RoundedBoxGeometry } from 'three/examples/jsm/geometries/RoundedBoxGeometry.js';
import type { Shot } from '../parts/camera-film';
import { clockStuff, makeClock } from '../parts/clocks';
import { seededRandom, wander } from '../parts/noise';
import { cobbles, materialOf, paint, plaster, wood } from '../parts/surfaces';
import { litPane, streetLamp, windowBay } from '../parts/town';
import { makeTram } from '../parts/tram';

const FACADE_Z = -9.6;
const TRAM_SPEED = 0.215; // metres a frame
/** x of the tram's rear corner at `frame`, and so of everything on it. */
const rearX = (frame: number): number => 1.62 - TRAM_SPEED * (frame - 74);

function signTexture(): THREE.Texture {
  const canvas = document.createElement('canvas');
  canvas.width = 1024;
  canvas.height = 128;
  const g = canvas.getContext('2d')!;
  g.fillStyle = '#17231f';
  g.fillRect(0, 0, 1024, 128);
  g.strokeStyle = '#b98e46';
  g.lineWidth = 4;
  g.strokeRect(14, 14, 996, 100);
  g.fillStyle = '#d8ad62';
  g.font = '600 64px "Instrument Sans"';
  g.letterSpacing = '17px';
  g.textAlign = 'center';
  g.textBaseline = 'middle';
  g.fillText('MENDER OF HOURS', 520, 68);
  const random = seededRandom(9);
  for (let i = 0; i < 1400; i++) {
    g.fillStyle = `rgba(20, 26, 22, ${0.5 * random()})`;
    g.fillRect(1024 * random(), 128 * random(), 1 + 5 * random() ** 4, 1 + 2 * random());
  }
  const texture = new THREE.CanvasTexture(canvas);
  texture.colorSpace = THREE.SRGBColorSpace;
  texture.anisotropy = 8;
  return texture;
}

/** The mender's shop at night; a tram passes close by and fills the whole frame. */
export function streetTram(): Shot {
  const scene = new THREE.Scene();
  scene.background = new THREE.Color(0x0a1020);
  scene.fog = new THREE.Fog(0x0b1322, 8, 42);
  const camera = new THREE.PerspectiveCamera(37, 16 / 9, 0.1, 80);

  const ground = new THREE.Mesh(
    new THREE.PlaneGeometry(40, 14),
    materialOf(cobbles(3), 10, 4, { normalScale: new THREE.Vector2(1.1, 1.1) }),
  );
  ground.rotation.x = -Math.PI / 2;
  ground.position.set(0, 0, -5);
  const steel = new THREE.MeshStandardMaterial({ color: 0x8a8580, metalness: 0.9, roughness: 0.28 });
  for (const z of [-3.1, -4.4]) {
    const rail = new THREE.Mesh(new THREE.BoxGeometry(40, 0.03, 0.07), steel);
    rail.position.set(0, 0.008, z);
    scene.add(rail);
  }
  const stone = materialOf(plaster(12, [0.42, 0.4, 0.37]), 6, 0.5);
  const kerb = new THREE.Mesh(new RoundedBoxGeometry(40, 0.18, 2.2, 2, 0.04), stone);
  kerb.position.set(0, 0.06, FACADE_Z + 1.0);
  scene.add(ground, kerb);

  const walls = [
    materialOf(plaster(21, [0.6, 0.47, 0.34]), 2, 1.3),
    materialOf(plaster(25, [0.36, 0.42, 0.44]), 2, 2),
    materialOf(plaster(29, [0.52, 0.36, 0.3]), 2, 2),
  ];
  const house = (x: number, width: number, height: number, z: number, wall: THREE.Material): void => {
    const mesh = new THREE.Mesh(new THREE.BoxGeometry(width, height, 3), wall);
    mesh.position.set(x, height / 2, z - 1.5);
    scene.add(mesh);
  };
  house(-6.6, 5.6, 9, FACADE_Z - 0.15, walls[1]!);
  house(6.7, 5.4, 9, FACADE_Z + 0.2, walls[2]!);
  // the shop's own wall is built around its window
  const wall = walls[0]!;
  const part = (x: number, y: number, w: number, h: number, material: THREE.Material = wall, depth = 0.5, z = FACADE_Z - 0.25): void => {
    const mesh = new THREE.Mesh(new RoundedBoxGeometry(w, h, depth, 1, 0.015), material);
    mesh.position.set(x, y, z);
    scene.add(mesh);
  };
  const green = materialOf(paint(41, [0.1, 0.25, 0.2], [0.33, 0.24, 0.16], 0.55), 1, 1);
  const doorPaint = materialOf(paint(47, [0.34, 0.12, 0.08], [0.36, 0.27, 0.18], 0.5), 1, 1);
  part(0, 6.3, 8, 5.2);
  const pier = materialOf(plaster(23, [0.6, 0.47, 0.34]), 0.4, 1);
  part(-3.45, 1.85, 1.3, 3.7, pier);
  part(3.6, 1.85, 0.9, 3.7, pier);
  part(-0.6, 0.42, 4.6, 0.85, green, 0.6); // stall riser under the window
  for (const x of [-2.86, 1.62, 3.12]) part(x, 1.7, 0.3, 3.3, green, 0.64);
  part(0.1, 3.42, 6.5, 0.62, green, 0.72);
  part(0.1, 3.82, 6.8, 0.12, green, 0.95);
  part(0.1, 3.08, 6.6, 0.08, green, 0.84);
  const sign = new THREE.Mesh(new THREE.PlaneGeometry(4.4, 0.5), new THREE.MeshStandardMaterial({ map: signTexture(), roughness: 0.55 }));
  sign.position.set(-0.35, 3.43, FACADE_Z + 0.13);
  scene.add(sign);
  for (const x of [-2.1, -1.35, -0.6, 0.15, 0.9]) part(x + 0.02, 1.98, 0.05, 2.2, green, 0.07, FACADE_Z + 0.1);
  part(-0.6, 2.5, 4.4, 0.05, green, 0.07, FACADE_Z + 0.1);
  // door with a lit pane
  part(2.38, 0.75, 1.16, 1.5, doorPaint, 0.12, FACADE_Z - 0.05);
  for (const x of [1.87, 2.89]) part(x, 2.2, 0.14, 1.7, doorPaint, 0.12, FACADE_Z - 0.05);
  part(2.38, 2.95, 1.16, 0.2, doorPaint, 0.12, FACADE_Z - 0.05);
  part(2.38, 2.15, 0.05, 1.5, doorPaint, 0.08, FACADE_Z - 0.05);
  const glow = new THREE.MeshBasicMaterial({ color: new THREE.Color(1.5, 0.78, 0.3) });
  const pane = new THREE.Mesh(new THREE.PlaneGeometry(1.1, 1.5), litPane(5, 0.8));
  pane.position.set(2.38, 2.2, FACADE_Z - 0.12);
  scene.add(pane);

  // inside the window: back wall, shelves, clocks, a lamp
  const inside = materialOf(wood(51, [0.55, 0.34, 0.19], [0.33, 0.18, 0.1]), 3, 2);
  const back = new THREE.Mesh(new THREE.PlaneGeometry(5.4, 3.2), inside);
  back.position.set(-0.6, 2, FACADE_Z - 1.7);
  const sill = new THREE.Mesh(new THREE.BoxGeometry(4.6, 0.06, 1.7), inside);
  sill.position.set(-0.6, 0.86, FACADE_Z - 0.9);
  const upper = new THREE.Mesh(new THREE.BoxGeometry(4.6, 0.05, 0.5), inside);
  upper.position.set(-0.6, 1.92, FACADE_Z - 1.45);
  scene.add(back, sill, upper);
  const stuff = clockStuff();
  const random = seededRandom(77);
  const clocks = [-2.4, -1.75, -1.0, -0.25, 0.5, 1.2].flatMap((x, i) => {
    const low = makeClock(stuff, [2, 0, 1, 3, 0, 2][i]!, [1.1, 0.66, 0.6, 0.72, 0.6, 1.0][i]!, 100 + i);
    low.body.position.set(x, 0.89, FACADE_Z - 0.55 - 0.35 * random());
    const high = makeClock(stuff, i + 3, 0.5 + 0.14 * random(), 200 + i);
    high.body.position.set(x + 0.3, 1.95, FACADE_Z - 1.45);
    scene.add(low.body, high.body);
    return [low, high];
  });
  const shade = new THREE.Mesh(new THREE.ConeGeometry(0.24, 0.2, 40, 1, true), glow);
  shade.position.set(-0.62, 2.8, FACADE_Z - 0.75);
  scene.add(shade);
  const inner = new THREE.PointLight(0xffb066, 9, 7, 1.6);
  inner.position.set(-0.62, 2.62, FACADE_Z - 0.6);
  const spill = new THREE.SpotLight(0xffa050, 110, 16, 0.85, 0.7, 1.7);
  spill.position.set(-0.6, 2.75, FACADE_Z - 0.4);
  spill.target.position.set(-0.6, 0, FACADE_Z + 4.2);
  spill.castShadow = true;
  spill.shadow.mapSize.set(1024, 1024);
  spill.shadow.bias = -0.002;
  const doorSpill = new THREE.PointLight(0xff9a4a, 5, 6, 1.8);
  doorSpill.position.set(2.4, 2.2, FACADE_Z + 0.5);
  scene.add(inner, spill, spill.target, doorSpill);

  // upper windows, one of them lit
  for (const [x, lit] of [
    [-2.5, false],
    [0.1, true],
    [2.7, false],
  ] as const) {
    const bay = windowBay(lit, green, 3 + x);
    bay.position.set(x, 5.35, FACADE_Z + 0.02);
    scene.add(bay);
  }
  for (const [x, y, lit, z] of [
    [-5.4, 2.4, true, -0.13],
    [-5.4, 5.3, false, -0.13],
    [5.6, 2.5, false, 0.22],
    [5.6, 5.3, true, 0.22],
  ] as const) {
    const bay = windowBay(lit, doorPaint, 7 + x + y);
    bay.position.set(x, y, FACADE_Z + z);
    scene.add(bay);
  }
  const lamp = streetLamp();
  lamp.position.set(4.15, 0, FACADE_Z + 2.1);
  scene.add(lamp);
  // a bench and a barrel by the wall
  const barrel = new THREE.Mesh(
    new THREE.LatheGeometry(
      [
        [0.24, 0],
        [0.31, 0.3],
        [0.31, 0.5],
        [0.25, 0.8],
      ].map(([r, y]) => new THREE.Vector2(r, y)),
      32,
    ),
    stuff.woods[0],
  );
  barrel.position.set(-3.5, 0.15, FACADE_Z + 0.5);
  scene.add(barrel);

  scene.add(new THREE.HemisphereLight(0x6f8fd0, 0x2a2018, 0.55));
  const moon = new THREE.DirectionalLight(0x8fb0ff, 0.5);
  moon.position.set(-6, 10, 8);
  scene.add(moon);
  const near = new THREE.SpotLight(0xffb877, 60, 14, 1.1, 0.9, 1.6); // a lamp behind the camera, for the tram's flank
  near.position.set(1.6, 5.2, 2.6);
  near.target.position.set(-0.5, 1.2, -4);
  scene.add(near, near.target);

  const tram = makeTram();
  scene.add(tram.body);
  scene.traverse((o) => {
    if (o !== shade && o instanceof THREE.Mesh && o.material instanceof THREE.MeshStandardMaterial && !o.material.transparent)
      o.castShadow = o.receiveShadow = true;
  });
  const rearCorner = new THREE.Vector3();
  return {
    name: 'street-tram',
    frames: 120,
    scene,
    camera,
    subject: tram.body,
    shutter: 0.42,
    exposure: 0.95,
    focus: 8.5,
    lensRadius: 0.006,
    samplesAt: (frame) => (rearX(frame) - tram.length < 2.4 && rearX(frame) > -4.2 ? 5 : 2),
    pose(frame) {
      const passing = Math.exp(-(((frame - 62) / 20) ** 2));
      camera.position.set(
        0.03 * wander(frame, 34, 1) + 0.004 * passing * wander(frame, 2.5, 7),
        1.55 + 0.025 * wander(frame, 29, 2) + 0.006 * passing * wander(frame, 2.1, 8),
        0,
      );
      camera.lookAt(0.05 + 0.12 * wander(frame, 40, 3), 2.0 + 0.08 * wander(frame, 37, 4), FACADE_Z);
      tram.body.position.set(rearX(frame), 0.004 * wander(frame, 3, 9), -2.55);
      rearCorner.set(rearX(frame), 1.55, -2.55);
      for (const clock of clocks) clock.tick(frame / 24);
    },
    points: () => ({
      'tram rear corner': rearCorner,
      'window left': new THREE.Vector3(-2.7, 2, FACADE_Z + 0.1),
      'sign centre': new THREE.Vector3(-0.35, 3.43, FACADE_Z + 0.13),
    }),
  };
}
