import * as THREE from 'three';
import type { Shot } from '../parts/camera-film';
import { DOME_RADIUS, domeSet } from '../parts/hill';
import { wander } from '../parts/noise';

/** The dome close by, its slit open, under a clear sky. */
export function domeClose(): Shot {
  const scene = new THREE.Scene();
  scene.background = new THREE.Color(0x060912);
  const camera = new THREE.PerspectiveCamera(30, 16 / 9, 0.2, 200);
  const { sky, dome } = domeSet(scene);
  return {
    name: 'dome-close',
    frames: 120,
    scene,
    camera,
    subject: dome.body,
    shutter: 0.5,
    exposure: 1.2,
    focus: 12,
    lensRadius: 0,
    samplesAt: () => 2,
    pose(frame) {
      camera.position.set(0.4 + 0.05 * wander(frame, 38, 221), 1.5 + 0.03 * wander(frame, 33, 222), 12.6 - 0.004 * frame);
      camera.lookAt(0.1 + 0.05 * wander(frame, 44, 223), 2.75 + 0.04 * wander(frame, 39, 224), 0);
      dome.cap.rotation.y = -0.3 + 0.0022 * frame;
      sky.drift(frame);
      dome.body.updateMatrixWorld(true);
    },
    points: () => {
      const at = (x: number, y: number, z: number): THREE.Vector3 => dome.body.localToWorld(new THREE.Vector3(x, y, z));
      return {
        'dome top': at(0, 2.26 + DOME_RADIUS, 0),
        'dome centre': at(0, 2.26, 0),
        'drum left': at(-DOME_RADIUS, 1.1, 0),
        'drum right': at(DOME_RADIUS, 1.1, 0),
        'lit window': at(-Math.sin(0.2) * 2.24, 1.3, Math.cos(0.2) * 2.24),
      };
    },
  };
}
