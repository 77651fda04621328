import * as THREE from 'three';
import type { Shot } from '../parts/camera-film';
import { makeLantern } from '../parts/cart';
import { wander } from '../parts/noise';
import { castShadows, put, tube, turned } from '../parts/shapes';
import { brass, materialOf, paint } from '../parts/surfaces';
import { makeYard } from '../parts/yard';

const ENTERS = 12;
const LEAVES = 56;

/** The path both things fly: from the lower left over the middle to the lower right, turning once on the way. */
function fly(object: THREE.Object3D, frame: number): void {
  const t = (frame - ENTERS) / (LEAVES - ENTERS);
  object.position.set(-2.1 + 4.2 * t, 0.25 + 4.6 * t * (1 - t), 1.5);
  object.rotation.set(0.35 * Math.sin(3 * t), 0.6 - 1.2 * t, -0.4 - 2 * Math.PI * t);
  object.updateMatrixWorld(true);
}

function makeKettle(): THREE.Group {
  const kettle = new THREE.Group();
  const copper = materialOf(brass(481), 2, 1, { metalness: 0.9, color: 0xe59a78 });
  const enamel = materialOf(paint(483, [0.1, 0.1, 0.11], [0.3, 0.25, 0.2], 0.6));
  put(
    kettle,
    turned(
      [
        [0.001, -0.12],
        [0.12, -0.12],
        [0.135, -0.1],
        [0.15, -0.03],
        [0.13, 0.05],
        [0.075, 0.09],
        [0.06, 0.1],
        [0.001, 0.1],
      ],
      64,
    ),
    copper,
  );
  put(
    kettle,
    turned(
      [
        [0.062, 0.098],
        [0.066, 0.104],
        [0.03, 0.122],
        [0.001, 0.124],
      ],
      48,
    ),
    copper,
  );
  put(kettle, new THREE.SphereGeometry(0.02, 24, 16), enamel, 0, 0.138, 0);
  put(
    kettle,
    tube(
      [
        [0.11, -0.06, 0],
        [0.19, -0.03, 0],
        [0.215, 0.05, 0],
        [0.26, 0.085, 0],
      ],
      0.024,
    ),
    copper,
  );
  put(
    kettle,
    tube(
      [
        [-0.1, 0.06, 0],
        [-0.1, 0.17, 0],
        [0, 0.215, 0],
        [0.1, 0.17, 0],
        [0.1, 0.06, 0],
      ],
      0.011,
    ),
    enamel,
  );
  return kettle;
}

function tossShot(name: string, thing: THREE.Group, lane: number, from: THREE.Vector3, to: THREE.Vector3): Shot {
  const scene = makeYard();
  const camera = new THREE.PerspectiveCamera(32, 16 / 9, 0.1, 60);
  const flown = new THREE.Group();
  flown.add(thing);
  castShadows(flown);
  const rig = new THREE.Group(); // stands so that the path looks the same from either place
  rig.add(flown);
  scene.add(rig);
  camera.position.copy(from);
  camera.lookAt(to);
  camera.updateMatrixWorld();
  rig.position.copy(from).addScaledVector(camera.getWorldDirection(new THREE.Vector3()), 5);
  rig.position.y -= 1.3;
  rig.rotation.y = Math.atan2(from.x - to.x, from.z - to.z);
  rig.translateZ(-1.5);
  return {
    name,
    frames: 72,
    scene,
    camera,
    subject: flown,
    shutter: 0.5,
    exposure: 1.05,
    focus: 4.6,
    lensRadius: 0.003,
    samplesAt: (frame) => (frame > ENTERS - 6 && frame < LEAVES + 6 ? 3 : 2),
    pose(frame) {
      camera.position.set(from.x + 0.015 * wander(frame, 34, lane), from.y + 0.012 * wander(frame, 30, lane + 1), from.z);
      camera.lookAt(to.x + 0.02 * wander(frame, 38, lane + 2), to.y + 0.02 * wander(frame, 33, lane + 3), to.z);
      fly(flown, frame);
    },
    points: () => ({ 'thing centre': flown.getWorldPosition(new THREE.Vector3()) }),
  };
}

/** A lit lantern is tossed across the yard. */
export function tossLantern(): Shot {
  const { body } = makeLantern(1.1);
  body.position.y = 0.33;
  body.scale.setScalar(1.6);
  return tossShot('toss-lantern', new THREE.Group().add(body), 491, new THREE.Vector3(0.1, 1.35, 5.2), new THREE.Vector3(0.3, 1.25, -1));
}

/** A copper kettle flies the same path, in another corner. */
export function tossKettle(): Shot {
  const kettle = makeKettle();
  kettle.scale.setScalar(1.6);
  return tossShot('toss-kettle', new THREE.Group().add(kettle), 501, new THREE.Vector3(2.6, 1.3, 4.2), new THREE.Vector3(-1.6, 1.1, -1.4));
}
