import * as THREE from 'three';
import { keyLight } from '../parts/lights';
import type { Shot } from '../parts/camera-film';
import { clockStuff, makeFace } from '../parts/clocks';
import { wander } from '../parts/noise';
import { castShadows, put, rimPoints, slab } from '../parts/shapes';
import { materialOf, wood } from '../parts/surfaces';

const DIAL_RADIUS = 0.16;

/** A round clock dial, its hands turning, in a slow push in. */
export function dialPush(): Shot {
  const scene = new THREE.Scene();
  scene.background = new THREE.Color(0x0b0806);
  const camera = new THREE.PerspectiveCamera(30, 16 / 9, 0.05, 20);
  const stuff = clockStuff(1536);
  const timber = materialOf(wood(231, [0.5, 0.34, 0.21], [0.25, 0.15, 0.09]), 1, 0.7);
  put(scene, slab(1.4, 0.8, 0.05, 0.01), timber, 0, 0, -0.08);
  for (const y of [-0.29, 0.29]) put(scene, slab(1.4, 0.05, 0.04, 0.015), timber, 0, y, -0.045);
  for (const x of [-0.36, 0.36]) put(scene, slab(0.05, 0.9, 0.045, 0.015), timber, x, 0, -0.04);
  const clock = makeFace(stuff, DIAL_RADIUS, 0, 10.12);
  scene.add(clock.body);
  castShadows(scene);
  const key = keyLight(new THREE.SpotLight(0xffc48a, 7.5, 4, 0.5, 0.85, 1.6), [-0.75, 0.72, 1.0], [0.02, -0.02, 0], {
    radius: 3,
    bias: -0.0006,
    normalBias: 0.003,
  });
  const street = new THREE.DirectionalLight(0x7f9fe0, 0.9);
  street.position.set(2.5, 0.4, 1.6);
  scene.add(key, key.target, street, new THREE.HemisphereLight(0x8f9cc8, 0x3a2a1c, 0.7));
  return {
    name: 'dial-push',
    frames: 120,
    scene,
    camera,
    subject: clock.body,
    shutter: 0.5,
    exposure: 1.0,
    focus: 1.0,
    lensRadius: 0.0015,
    samplesAt: () => 2,
    pose(frame) {
      camera.position.set(0.004 * wander(frame, 33, 241), -0.01 + 0.004 * wander(frame, 29, 242), 1.12 - 0.0021 * frame);
      camera.lookAt(0.002 + 0.003 * wander(frame, 38, 243), 0.003 * wander(frame, 35, 244), 0);
      clock.tick(frame * 14); // time runs fast in this house
      clock.body.updateMatrixWorld(true);
    },
    points: () => ({
      'dial centre': clock.body.getWorldPosition(new THREE.Vector3()),
      ...rimPoints('dial rim', 12, clock.body, DIAL_RADIUS),
    }),
  };
}
