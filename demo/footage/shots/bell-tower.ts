import * as THREE from 'three';
import { keyLight } from '../parts/lights';
import type { Shot } from '../parts/camera-film';
import { makeBell, makeFigure, makeHammer } from '../parts/figures';
import { nightSky } from '../parts/hill';
import { keyed } from '../parts/motion';
import { wander } from '../parts/noise';
import { castShadows, put, slab } from '../parts/shapes';
import { materialOf, plaster, wood } from '../parts/surfaces';

/** The hammer meets the bell on this frame. */
export const STRIKE_FRAME = 48;

/** High in the tower a figure strikes the bell, its body in the middle third of the picture. */
export function bellTower(): Shot {
  const scene = new THREE.Scene();
  scene.background = new THREE.Color(0x070b16);
  const camera = new THREE.PerspectiveCamera(31, 16 / 9, 0.05, 200);
  const sky = nightSky(90, 50, 0.35, [-0.2, 0.1]);
  sky.mesh.position.set(0, 4, -70);
  scene.add(sky.mesh);
  const stone = materialOf(plaster(461, [0.55, 0.5, 0.44]), 1, 1);
  const arch = new THREE.Shape();
  arch.moveTo(-3, -1.5);
  arch.lineTo(3, -1.5);
  arch.lineTo(3, 2.6);
  arch.lineTo(-3, 2.6);
  const opening = new THREE.Path();
  opening.moveTo(-0.82, 0);
  opening.lineTo(-0.82, 0.85);
  opening.absarc(0, 0.85, 0.82, Math.PI, 0, true);
  opening.lineTo(0.82, 0);
  arch.holes.push(opening);
  const wall = put(
    scene,
    new THREE.ExtrudeGeometry(arch, {
      depth: 0.4,
      bevelEnabled: true,
      bevelSize: 0.02,
      bevelThickness: 0.02,
      bevelSegments: 2,
      curveSegments: 40,
    }),
    stone,
    0,
    0,
    -0.62,
  );
  const uv = wall.geometry.attributes.uv!;
  for (let i = 0; i < uv.count; i++) uv.setXY(i, uv.getX(i) * 0.5, uv.getY(i) * 0.5);
  for (let i = 0; i < 11; i++) {
    const angle = Math.PI * ((i + 0.5) / 11);
    const block = put(scene, slab(0.24, 0.23, 0.1, 0.02), stone, Math.cos(angle) * 0.95, 0.85 + Math.sin(angle) * 0.95, -0.2);
    block.rotation.z = angle - Math.PI / 2;
  }
  for (const side of [-1, 1])
    for (let i = 0; i < 4; i++)
      put(scene, slab(i % 2 ? 0.26 : 0.34, 0.22, 0.1, 0.02), stone, side * (i % 2 ? 0.95 : 0.99), 0.1 + 0.225 * i, -0.2);
  const timber = materialOf(wood(463, [0.4, 0.25, 0.15], [0.2, 0.11, 0.06]), 1, 0.2);
  put(scene, slab(2.6, 0.08, 0.9, 0.01), timber, 0, -0.04, -0.1);
  put(scene, slab(2.2, 0.12, 0.12, 0.015), timber, 0, 1.28, -0.07);
  const bell = makeBell();
  bell.position.set(0.38, 1.2, -0.07);
  bell.scale.setScalar(1.35);
  scene.add(bell);
  const figure = makeFigure('watchman');
  figure.body.position.set(-0.2, 0, 0.02);
  figure.body.rotation.y = 1.25;
  figure.body.scale.setScalar(1.45);
  const hammer = makeHammer();
  hammer.position.set(0, -0.168, 0);
  hammer.rotation.x = 1.7;
  figure.leftArm.add(hammer);
  const subject = new THREE.Group();
  subject.add(figure.body);
  scene.add(subject);
  castShadows(scene);
  const key = keyLight(new THREE.SpotLight(0xffbd7d, 22, 7, 0.7, 0.8, 1.6), [-1.6, 1.9, 2.0], [0.05, 0.6, -0.1], {
    radius: 4,
    bias: -0.0008,
    normalBias: 0.006,
  });
  const moon = new THREE.DirectionalLight(0x9db6ff, 1.6);
  moon.position.set(2.5, 2.4, 1.0);
  scene.add(key, key.target, moon, new THREE.HemisphereLight(0x7f93c8, 0x2c221a, 0.75));
  return {
    name: 'bell-tower',
    frames: 96,
    scene,
    camera,
    subject,
    shutter: 0.5,
    exposure: 1.05,
    focus: 3.1,
    lensRadius: 0.003,
    samplesAt: (frame) => (Math.abs(frame - STRIKE_FRAME) < 8 ? 3 : 2),
    pose(frame) {
      const since = Math.max(0, frame - STRIKE_FRAME);
      const hit = since > 0 ? Math.exp(-since / 6) * Math.sin(since * 1.9) : 0;
      camera.position.set(0.01 * wander(frame, 34, 471) + 0.002 * hit, 0.86 + 0.01 * wander(frame, 30, 472), 3.1);
      camera.lookAt(0.008 * wander(frame, 38, 473), 0.68 + 0.008 * wander(frame, 33, 474) + 0.003 * hit, 0);
      const lift = keyed(
        [
          [8, 0.5],
          [34, 2.75],
          [43, 2.8],
          [STRIKE_FRAME, 1.75],
          [STRIKE_FRAME + 7, 2.2],
          [78, 0.6],
        ],
        frame,
      );
      figure.pose(
        keyed(
          [
            [10, -0.3],
            [30, 0.25],
            [52, 0.3],
            [80, -0.5],
          ],
          frame,
        ),
        frame * 0.14,
        0.15,
        lift,
      );
      bell.rotation.z = -0.05 * Math.exp(-since / 26) * Math.sin(since * 0.33) * (since > 0 ? 1 : 0);
      bell.updateMatrixWorld(true);
      sky.drift(frame);
    },
    points: () => ({
      ...figure.points(),
      'bell mouth': bell.localToWorld(new THREE.Vector3(0, -0.46, 0)),
      'bell crown': bell.localToWorld(new THREE.Vector3(0, 0, 0)),
    }),
  };
}
