import * as THREE from 'three';
import type { Shot } from '../parts/camera-film';
import { makeCart } from '../parts/cart';
import { wander } from '../parts/noise';
import { castShadows } from '../parts/shapes';
import { makeYard } from '../parts/yard';

const STOP_X = -0.15;
const STOP_FRAME = 56;

/** Where the cart is: it comes in fast from the right, slows down evenly and stands still from `STOP_FRAME` on. */
function cartX(frame: number): number {
  const left = Math.max(0, STOP_FRAME - frame);
  return STOP_X + 0.00145 * left * left + 0.012 * left;
}

/** The yard of the observatory at night: a handcart with a telescope tube rolls in and stops. */
export function cartArrive(): Shot {
  const scene = makeYard();
  const camera = new THREE.PerspectiveCamera(32, 16 / 9, 0.1, 60);
  const cart = makeCart();
  scene.add(cart.body);
  castShadows(cart.body);
  return {
    name: 'cart-arrive',
    frames: 96,
    scene,
    camera,
    subject: cart.body,
    shutter: 0.5,
    exposure: 1.0,
    focus: 5.6,
    lensRadius: 0.004,
    samplesAt: (frame) => (frame < 46 ? 4 : 2),
    pose(frame) {
      camera.position.set(0.02 * wander(frame, 34, 141), 1.3 + 0.015 * wander(frame, 29, 142), 5.5);
      camera.lookAt(0.05 + 0.03 * wander(frame, 40, 143), 0.98 + 0.02 * wander(frame, 37, 144), 0);
      const rolling = Math.min(1, Math.max(0, STOP_FRAME - frame) / 20);
      const settled = Math.max(0, frame - STOP_FRAME);
      const rock = 0.014 * rolling * wander(frame, 2.6, 145) + (settled > 0 ? 0.03 * Math.exp(-settled / 7) * Math.sin(settled / 2.1) : 0);
      cart.roll(cartX(frame), rock);
      cart.body.updateMatrixWorld(true);
    },
    points: () => ({
      'tube mouth': cart.tube.localToWorld(new THREE.Vector3(0, -0.78, 0)),
      'tube eyepiece': cart.tube.localToWorld(new THREE.Vector3(0, 0.93, 0)),
      'near wheel hub': cart.body.localToWorld(new THREE.Vector3(0, 0.36, 0.44)),
      'window centre': new THREE.Vector3(1.0, 1.95, -1.57),
    }),
  };
}
