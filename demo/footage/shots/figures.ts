import * as THREE from 'three';
import { keyLight } from '../parts/lights';
import type { Shot } from '../parts/camera-film';
import { makeFigure, type FigureKind } from '../parts/figures';
import { keyed } from '../parts/motion';
import { fractal, wander } from '../parts/noise';
import { castShadows, put, turned } from '../parts/shapes';
import { materialOf, wood } from '../parts/surfaces';

/** A green cloth hung behind and swept under the figure: creased and not evenly lit, as such cloths are. */
function greenCloth(): THREE.Mesh {
  const geometry = new THREE.PlaneGeometry(5, 6, 120, 240);
  const at = geometry.attributes.position!;
  for (let i = 0; i < at.count; i++) {
    const x = at.getX(i);
    const s = at.getY(i) + 1.2; // along the cloth, 0 where it leaves the floor
    const crease = 0.035 * (fractal(x / 5 + 0.5, s / 6 + 0.4, 5, 4, 421) - 0.5) + 0.006 * Math.sin(x * 9 + s);
    const bend = Math.max(0, Math.min(1, (s + 0.3) / 0.6));
    const angle = (bend * Math.PI) / 2;
    if (s < -0.3) at.setXYZ(i, x, crease * 0.2, -s - 0.3);
    else if (s < 0.3) at.setXYZ(i, x, 0.38 * (1 - Math.cos(angle)), -0.38 * Math.sin(angle));
    else at.setXYZ(i, x, s - 0.3 + 0.38, -0.38 + crease);
  }
  geometry.computeVertexNormals();
  const mesh = new THREE.Mesh(geometry, new THREE.MeshStandardMaterial({ color: 0x1f8a3c, roughness: 0.92, side: THREE.DoubleSide }));
  mesh.position.z = -0.35;
  mesh.receiveShadow = true;
  return mesh;
}

function figureShot(name: string, kind: FigureKind, lane: number, camera: THREE.PerspectiveCamera, place: THREE.Vector3): Shot {
  const scene = new THREE.Scene();
  scene.background = new THREE.Color(0x0d3a1a);
  scene.add(greenCloth());
  const stand = put(
    scene,
    turned(
      [
        [0.001, 0],
        [0.21, 0],
        [0.215, 0.02],
        [0.2, 0.05],
        [0.2, 0.08],
        [0.001, 0.081],
      ],
      72,
    ),
    materialOf(wood(431, [0.44, 0.26, 0.14], [0.22, 0.11, 0.06]), 1, 0.2),
  );
  const figure = makeFigure(kind);
  figure.body.position.y = 0.081;
  scene.add(figure.body);
  castShadows(stand);
  const key = keyLight(new THREE.SpotLight(0xffe2bd, 9, 6, 0.5, 0.8, 1.5), [-1.0, 1.5, 1.5], [0, 0.35, 0], {
    radius: 4,
    bias: -0.0008,
    normalBias: 0.005,
  });
  const rim = new THREE.DirectionalLight(0xbcd0ff, 1.3);
  rim.position.set(1.5, 1.4, -0.8);
  scene.add(key, key.target, rim, new THREE.HemisphereLight(0xdfe8ff, 0x2a5a30, 1.15));
  return {
    name,
    frames: 96,
    scene,
    camera,
    subject: figure.body,
    shutter: 0.5,
    exposure: 1.0,
    focus: 1.6,
    lensRadius: 0.002,
    samplesAt: () => 2,
    pose(frame) {
      camera.position.set(place.x + 0.004 * wander(frame, 34, lane), place.y + 0.004 * wander(frame, 30, lane + 1), place.z);
      camera.lookAt(0.003 * wander(frame, 38, lane + 2), 0.41 + 0.003 * wander(frame, 33, lane + 3), 0);
      const yaw = keyed(
        [
          [14, -0.75],
          [44, 0.72],
          [58, 0.72],
          [84, -0.2],
        ],
        frame,
      );
      figure.pose(
        yaw,
        frame * 0.16,
        keyed(
          [
            [20, 0.1],
            [46, 0.9],
            [60, 0.9],
            [84, 0.2],
          ],
          frame,
        ) +
          0.02 * Math.sin(frame * 1.3),
        0,
      );
    },
    points: () => figure.points(),
  };
}

/** A wind-up watchman turns his head, before green. */
export const figureA = (): Shot =>
  figureShot('figure-a', 'watchman', 441, new THREE.PerspectiveCamera(27, 16 / 9, 0.05, 20), new THREE.Vector3(0.04, 0.52, 1.95));

/** A wind-up baker turns her head the same way, a little nearer. */
export const figureB = (): Shot =>
  figureShot('figure-b', 'baker', 451, new THREE.PerspectiveCamera(27, 16 / 9, 0.05, 20), new THREE.Vector3(-0.03, 0.5, 1.82));
