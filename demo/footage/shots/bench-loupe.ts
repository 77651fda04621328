import * as THREE from 'three';
import type { Shot } from '../parts/camera-film';
import { DESK_TOP, makeDesk } from '../parts/desk';
import { GLASS_RADIUS, makeLoupe } from '../parts/loupe';
import { ease, mix } from '../parts/motion';
import { wander } from '../parts/noise';
import { castShadows, rimPoints } from '../parts/shapes';

/** A brass loupe lifts from the workbench, tilts and turns towards the camera. */
export function benchLoupe(): Shot {
  const desk = makeDesk();
  const { scene } = desk;
  const camera = new THREE.PerspectiveCamera(31, 16 / 9, 0.05, 20);
  const loupe = makeLoupe();
  castShadows(loupe.body);
  scene.add(loupe.body);
  return {
    name: 'bench-loupe',
    frames: 120,
    scene,
    camera,
    subject: loupe.body,
    shutter: 0.5,
    exposure: 1.05,
    focus: 0.72,
    lensRadius: 0.0022,
    samplesAt: () => 3,
    prepare: desk.prepare,
    beforeSample(film) {
      loupe.look(film, scene, camera, film.scale);
    },
    pose(frame) {
      desk.tick(frame);
      camera.position.set(0.02 + 0.006 * wander(frame, 33, 51), 1.05 + 0.006 * wander(frame, 28, 52), 0.86 - 0.0004 * frame);
      camera.lookAt(0.02 + 0.004 * wander(frame, 37, 53), 0.865 + 0.004 * wander(frame, 31, 54), 0);
      const lift = ease(16, 62, frame);
      const turn = ease(24, 80, frame);
      const near = ease(60, 130, frame);
      loupe.body.position.set(
        mix(0.05, 0.0, lift) + 0.004 * lift * wander(frame, 17, 55),
        DESK_TOP + mix(0.011, 0.15, lift) + 0.022 * near + 0.004 * lift * wander(frame, 15, 56),
        mix(0.1, 0.2, lift) + 0.19 * near,
      );
      loupe.body.rotation.set(
        mix(-Math.PI / 2, -0.16, turn) + 0.05 * lift * wander(frame, 19, 57),
        mix(0, 1, turn * (1 - turn) * 4) * 0.75 + 0.04 * lift * wander(frame, 21, 58),
        mix(-0.9, 0.35, turn) + 0.05 * lift * wander(frame, 23, 59),
      );
      loupe.body.updateMatrixWorld();
    },
    points: () => ({
      'glass centre': loupe.body.getWorldPosition(new THREE.Vector3()),
      ...rimPoints('glass rim', 12, loupe.body, GLASS_RADIUS),
    }),
  };
}
