import * as THREE from 'three';
import { keyLight } from '../parts/lights';
import type { Shot } from '../parts/camera-film';
import { makeClock, clockStuff } from '../parts/clocks';
import { domeSet } from '../parts/hill';
import { AT_REST, makeMender, type MenderPose } from '../parts/mender';
import { ease, keyed, mix } from '../parts/motion';
import { wander } from '../parts/noise';
import { castShadows, put, slab, turned } from '../parts/shapes';
import { materialOf, paint, plaster, wood } from '../parts/surfaces';

const GRAVITY = 9.81 / 24 / 24; // metres a frame a frame

/** Arms up, legs adrift: how he falls. */
function falling(frame: number, gone: number): MenderPose {
  return {
    ...AT_REST,
    headYaw: 0.2 * wander(frame, 12, 511),
    headPitch: mix(0, -0.25, gone) + 0.05 * wander(frame, 9, 512),
    jaw: 0.8 * gone,
    gaze: [0, mix(0.2, -0.8, gone)],
    leftArm: [mix(0.2, 2.5, gone) + 0.15 * wander(frame, 5, 513), mix(0.2, 0.6, gone), mix(0.5, 0.3, gone)],
    rightArm: [mix(0.2, 2.6, gone) + 0.15 * wander(frame, 5, 514), mix(0.2, 0.6, gone), mix(0.5, 0.35, gone)],
    legs: [0.25 * gone * wander(frame, 5, 515), 0.3 * gone * wander(frame, 5, 516) + 0.2 * gone],
  };
}

/** In the loft the floor opens: the mender drops out of the bottom of the picture. */
export function loftDrop(): Shot {
  const scene = new THREE.Scene();
  scene.background = new THREE.Color(0x080a10);
  const camera = new THREE.PerspectiveCamera(32, 16 / 9, 0.05, 30);
  const boards = wood(521, [0.42, 0.28, 0.17], [0.22, 0.13, 0.08]);
  for (let i = 0; i < 15; i++)
    put(scene, slab(4.6, 0.19, 0.04, 0.006), materialOf(boards, 1, 0.16), 0.05 * Math.sin(i * 7), -0.2 + 0.195 * i, -1.2);
  for (const side of [-1, 1]) {
    const rafter = put(scene, slab(0.16, 3.6, 0.16, 0.02), materialOf(boards, 0.2, 1), side * 1.35, 1.3, -0.85);
    rafter.rotation.z = side * 0.5;
  }
  put(scene, slab(4.4, 0.15, 0.15, 0.02), materialOf(boards, 1, 0.1), 0, 1.62, -0.8);
  put(scene, slab(2.0, 0.06, 1.4, 0.01), materialOf(boards, 1, 0.6), -1.55, 0.0, -0.5);
  put(scene, slab(2.0, 0.06, 1.4, 0.01), materialOf(boards, 1, 0.6), 1.55, 0.0, -0.5);
  const rim = put(scene, new THREE.TorusGeometry(0.33, 0.05, 12, 48), materialOf(boards, 2, 0.2), 0.95, 1.2, -1.17);
  put(
    scene,
    new THREE.CircleGeometry(0.33, 48),
    new THREE.MeshBasicMaterial({ color: new THREE.Color(0.32, 0.42, 0.72) }),
    0.95,
    1.2,
    -1.175,
  );
  put(scene, slab(0.66, 0.03, 0.03), rim.material, 0.95, 1.2, -1.16);
  put(scene, slab(0.03, 0.66, 0.03), rim.material, 0.95, 1.2, -1.16);
  const crate = materialOf(wood(523, [0.5, 0.35, 0.2], [0.3, 0.19, 0.1]), 1, 0.3);
  for (const [x, y, z, w, h, turn] of [
    [-1.1, 0.2, -0.7, 0.46, 0.34, 0.2],
    [-1.02, 0.5, -0.75, 0.34, 0.26, -0.15],
    [1.35, 0.19, -0.6, 0.5, 0.32, -0.25],
  ] as const)
    put(scene, slab(w, h, 0.36), crate, x, y, z).rotation.y = turn;
  const clock = makeClock(clockStuff(), 0, 0.36, 527);
  clock.body.position.set(1.32, 0.35, -0.62);
  clock.body.rotation.y = -0.3;
  scene.add(clock.body);
  put(
    scene,
    turned([
      [0.001, 0],
      [0.09, 0],
      [0.11, 0.1],
      [0.07, 0.26],
      [0.05, 0.3],
      [0.001, 0.3],
    ]),
    materialOf(paint(529, [0.16, 0.3, 0.32], [0.4, 0.3, 0.2], 0.6)),
    -0.62,
    0.03,
    -0.45,
  );
  const mender = makeMender();
  scene.add(mender.body);
  castShadows(scene);
  const key = keyLight(new THREE.SpotLight(0xffbe80, 26, 7, 0.65, 0.8, 1.6), [-1.5, 2.3, 1.5], [0, 0.7, -0.4], {
    radius: 4,
    bias: -0.0008,
    normalBias: 0.006,
  });
  const moon = new THREE.DirectionalLight(0x86a6ff, 1.3);
  moon.position.set(2.4, 1.6, 0.4);
  scene.add(key, key.target, moon, new THREE.HemisphereLight(0x7f93c8, 0x2c221a, 0.65));
  const letGo = 30;
  return {
    name: 'loft-drop',
    frames: 72,
    scene,
    camera,
    subject: mender.body,
    shutter: 0.5,
    exposure: 1.25,
    focus: 3,
    lensRadius: 0.002,
    samplesAt: (frame) => (frame > letGo && frame < letGo + 20 ? 3 : 2),
    pose(frame) {
      camera.position.set(0.01 * wander(frame, 34, 531), 0.95 + 0.01 * wander(frame, 30, 532), 2.6);
      camera.lookAt(0.008 * wander(frame, 38, 533), 0.86 + 0.008 * wander(frame, 33, 534), -0.4);
      clock.tick(frame / 24);
      const since = Math.max(0, frame - letGo);
      mender.body.position.set(0.01 * wander(frame, 20, 535), 0.55 - 0.5 * GRAVITY * since * since, -0.35);
      const gone = ease(letGo - 2, letGo + 5, frame);
      const pose = falling(frame, gone);
      mender.pose({
        ...pose,
        gaze: [
          0,
          keyed(
            [
              [10, 0.2],
              [20, -0.9],
            ],
            frame,
          ),
        ],
        blink: Math.max(0, 1 - Math.abs(frame - 16) / 2.5),
      });
    },
    points: () => mender.points(),
  };
}

/** He falls into the top of the picture before the dome, smaller in frame, and lands on his feet. */
export function domeDrop(): Shot {
  const scene = new THREE.Scene();
  scene.background = new THREE.Color(0x060912);
  const camera = new THREE.PerspectiveCamera(34, 16 / 9, 0.1, 200);
  const { sky, dome } = domeSet(scene);
  dome.body.position.set(1.6, 0, -2.4);
  const mender = makeMender();
  mender.body.scale.setScalar(1.15);
  mender.body.rotation.y = 0.15;
  scene.add(mender.body);
  const rock = put(scene, new THREE.IcosahedronGeometry(0.4, 3), materialOf(plaster(541, [0.4, 0.38, 0.36])), -2.6, 0, 1.5);
  rock.scale.set(1.3, 0.6, 1);
  castShadows(rock);
  const lamp = new THREE.PointLight(0xffa552, 5, 7, 1.6);
  lamp.position.set(-1.6, 2.0, 3.6);
  scene.add(lamp);
  const lands = 34;
  const standing = 0.46 * 1.15 - 0.03;
  return {
    name: 'dome-drop',
    frames: 72,
    scene,
    camera,
    subject: mender.body,
    shutter: 0.5,
    exposure: 1.2,
    focus: 5.2,
    lensRadius: 0.002,
    samplesAt: (frame) => (frame > 8 && frame < lands + 3 ? 3 : 2),
    pose(frame) {
      camera.position.set(-0.3 + 0.02 * wander(frame, 34, 551), 1.25 + 0.015 * wander(frame, 30, 552), 7.4);
      camera.lookAt(-0.1 + 0.02 * wander(frame, 38, 553), 1.5 + 0.02 * wander(frame, 33, 554), 0);
      sky.drift(frame);
      const before = Math.max(0, lands - frame);
      const after = Math.max(0, frame - lands);
      const squash = after > 0 ? 0.16 * Math.exp(-after / 6) * Math.sin(after * 0.55) : 0;
      mender.body.position.set(-0.5, standing + 0.06 * before + 0.5 * GRAVITY * before * (16 + 0.2 * before) * 0.55 - squash * 0.5, 2.2);
      mender.body.scale.set(1.15 * (1 + 0.4 * squash), 1.15 * (1 - squash), 1.15 * (1 + 0.4 * squash));
      const gone = 1 - ease(lands - 1, lands + 9, frame);
      mender.pose({
        ...falling(frame, gone),
        headYaw: keyed(
          [
            [46, 0],
            [58, 0.5],
          ],
          frame,
        ),
        blink: Math.max(0, 1 - Math.abs(frame - lands - 3) / 3),
      });
    },
    points: () => mender.points(),
  };
}
