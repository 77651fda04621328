import * as THREE from 'three';
import take1 from '../../truth/mender-take-1.speech.json';
import take2 from '../../truth/mender-take-2.speech.json';
import type { Shot } from '../parts/camera-film';
import { DESK_TOP, makeDesk, type Desk } from '../parts/desk';
import { AT_REST, makeMender, type MenderPose } from '../parts/mender';
import { ease, keyed } from '../parts/motion';
import { wander } from '../parts/noise';

interface Speech {
  readonly mouthRate: number;
  readonly mouth: readonly number[];
}

/** How far the mouth stands open at `frame`, the sound's value in between. */
function mouthAt(speech: Speech, frame: number): number {
  const at = Math.max(0, (frame / 24) * speech.mouthRate);
  const i = Math.floor(at);
  const here = speech.mouth[Math.min(i, speech.mouth.length - 1)]!;
  const next = speech.mouth[Math.min(i + 1, speech.mouth.length - 1)]!;
  return here + (next - here) * (at - i);
}

/** 1 for a moment around each of `frames`: the eyes close and open in five frames. */
const blinkAt = (frame: number, frames: readonly number[]): number =>
  frames.reduce((shut, at) => Math.max(shut, ease(at - 2.5, at - 0.5, frame) * (1 - ease(at + 0.5, at + 3, frame))), 0);

/** The desk as both takes and the empty plate see it. @param lane keeps the hand-held drift of the takes apart */
function deskShot(lane: number): { desk: Desk; camera: THREE.PerspectiveCamera; drift: (frame: number) => void } {
  const desk = makeDesk();
  desk.key.position.set(-0.85, DESK_TOP + 1.0, 0.75);
  desk.key.target.position.set(0.02, DESK_TOP + 0.2, -0.35);
  desk.key.angle = 0.75;
  desk.key.intensity = 16;
  const rim = new THREE.DirectionalLight(0x8fb0ff, 1.5); // the window's light on hair and shoulder
  rim.position.set(2.2, 2.4, -2.2);
  desk.scene.add(rim);
  const camera = new THREE.PerspectiveCamera(27, 16 / 9, 0.05, 20);
  return {
    desk,
    camera,
    drift(frame) {
      desk.tick(frame);
      camera.position.set(0.03 + 0.005 * wander(frame, 34, lane), 1.2 + 0.005 * wander(frame, 29, lane + 1), 1.22);
      camera.lookAt(0.03 + 0.004 * wander(frame, 39, lane + 2), 1.085 + 0.004 * wander(frame, 35, lane + 3), -0.4);
    },
  };
}

function take(name: string, lane: number, poseAt: (frame: number) => MenderPose, x: number, turn: number): Shot {
  const { desk, camera, drift } = deskShot(lane);
  const mender = makeMender();
  mender.body.position.set(x, DESK_TOP - 0.12, -0.5);
  mender.body.rotation.y = turn;
  mender.body.scale.setScalar(0.86);
  desk.scene.add(mender.body);
  return {
    name,
    frames: 144,
    scene: desk.scene,
    camera,
    subject: mender.body,
    shutter: 0.5,
    exposure: 1.05,
    focus: 1.6,
    lensRadius: 0.002,
    samplesAt: () => 2,
    prepare: desk.prepare,
    pose(frame) {
      drift(frame);
      mender.pose(poseAt(frame));
    },
    points: () => mender.points(),
  };
}

/** "Every clock here stops at midnight, and I, uh, and I wake them." */
export function menderTake1(): Shot {
  return take(
    'mender-take-1',
    301,
    (frame) => ({
      ...AT_REST,
      headYaw:
        -0.05 +
        keyed(
          [
            [6, 0],
            [20, 0.3],
            [34, 0.02],
            [66, -0.02],
            [78, -0.34],
            [92, -0.28],
            [104, 0.06],
          ],
          frame,
        ) +
        0.03 * wander(frame, 14, 311),
      headPitch:
        -0.03 +
        keyed(
          [
            [44, 0],
            [54, 0.1],
            [64, -0.02],
            [82, -0.14],
            [98, 0.02],
          ],
          frame,
        ) +
        0.03 * wander(frame, 11, 312) -
        0.03 * mouthAt(take1, frame),
      headRoll:
        0.04 +
        0.04 * wander(frame, 18, 313) +
        keyed(
          [
            [78, 0],
            [88, 0.1],
            [102, 0],
          ],
          frame,
        ),
      lean: 0.03 * wander(frame, 30, 314),
      jaw: mouthAt(take1, frame),
      gaze: [
        keyed(
          [
            [8, 0],
            [13, 0.5],
            [30, 0.1],
            [74, 0],
            [79, -0.7],
            [96, -0.5],
            [101, 0.1],
          ],
          frame,
        ),
        keyed(
          [
            [74, 0],
            [80, 0.5],
            [96, 0],
          ],
          frame,
        ),
      ],
      blink: blinkAt(frame, [16, 57, 76, 103, 131]),
      leftArm: [0.62 + 0.04 * wander(frame, 16, 315), 0.2, 1.0],
      rightArm: [
        0.6 +
          keyed(
            [
              [26, 0],
              [40, 0.3],
              [62, 0.1],
              [70, 0.42],
              [94, 0.35],
              [112, 0],
            ],
            frame,
          ),
        0.22,
        1.05 +
          keyed(
            [
              [26, 0],
              [40, 0.5],
              [58, 0.2],
              [70, 0.72],
              [94, 0.6],
              [114, 0],
            ],
            frame,
          ),
      ],
    }),
    -0.02,
    0.04,
  );
}

/** "The tram comes home at midnight, and the whole hill goes quiet." */
export function menderTake2(): Shot {
  return take(
    'mender-take-2',
    331,
    (frame) => ({
      ...AT_REST,
      headYaw:
        0.1 +
        keyed(
          [
            [8, 0],
            [24, -0.26],
            [44, -0.06],
            [70, 0.16],
            [90, 0.3],
            [112, 0.02],
          ],
          frame,
        ) +
        0.03 * wander(frame, 13, 341),
      headPitch:
        0.0 +
        keyed(
          [
            [40, 0],
            [50, 0.08],
            [60, 0],
            [96, -0.12],
            [118, -0.04],
          ],
          frame,
        ) +
        0.03 * wander(frame, 12, 342) -
        0.03 * mouthAt(take2, frame),
      headRoll: -0.05 + 0.04 * wander(frame, 17, 343),
      lean: -0.04 + 0.03 * wander(frame, 28, 344),
      jaw: mouthAt(take2, frame),
      gaze: [
        keyed(
          [
            [10, 0],
            [15, -0.5],
            [36, 0],
            [66, 0.1],
            [72, 0.6],
            [104, 0.4],
            [110, 0],
          ],
          frame,
        ),
        keyed(
          [
            [70, 0],
            [76, 0.3],
            [104, 0.1],
          ],
          frame,
        ),
      ],
      blink: blinkAt(frame, [12, 47, 69, 107, 126]),
      leftArm: [
        0.6 +
          keyed(
            [
              [60, 0],
              [76, 0.4],
              [98, 0.3],
              [116, 0],
            ],
            frame,
          ),
        0.24 +
          keyed(
            [
              [60, 0],
              [78, 0.35],
              [116, 0],
            ],
            frame,
          ),
        1.0 +
          keyed(
            [
              [60, 0],
              [76, 0.35],
              [116, 0],
            ],
            frame,
          ),
      ],
      rightArm: [0.66 + 0.04 * wander(frame, 15, 345), 0.16, 1.02],
    }),
    0.035,
    -0.05,
  );
}

/** The same desk, nobody. */
export function deskPlate(): Shot {
  const { desk, camera, drift } = deskShot(361);
  return {
    name: 'desk-plate',
    frames: 72,
    scene: desk.scene,
    camera,
    subject: null,
    shutter: 0.5,
    exposure: 1.05,
    focus: 1.6,
    lensRadius: 0.002,
    samplesAt: () => 2,
    prepare: desk.prepare,
    pose: drift,
    points: () => ({ 'desk front middle': new THREE.Vector3(0, DESK_TOP, 0.42) }),
  };
}
