import * as THREE from 'three';
import type { Shot } from '../parts/camera-film';
import { ground, makeDome, makeMoon, makeTree, nightSky, thinCloud } from '../parts/hill';
import { wander } from '../parts/noise';
import { put, rimPoints } from '../parts/shapes';

const MOON_RADIUS = 5.2;

/** The moon, upper right, climbs behind thin drifting cloud; the observatory stands small below. */
export function moonrise(): Shot {
  const scene = new THREE.Scene();
  scene.background = new THREE.Color(0x05070e);
  const camera = new THREE.PerspectiveCamera(28, 16 / 9, 0.5, 400);
  const sky = nightSky(130, 74, 0.28, [0.18, 0.17]);
  sky.mesh.position.set(0, 14, -120);
  const moon = makeMoon(MOON_RADIUS);
  const halo = put(
    scene,
    new THREE.PlaneGeometry(60, 60),
    new THREE.ShaderMaterial({
      transparent: true,
      depthWrite: false,
      blending: THREE.AdditiveBlending,
      vertexShader:
        'varying vec2 at; void main() { at = uv - 0.5; gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }',
      fragmentShader:
        'varying vec2 at; void main() { float d = length(at) * 2.0; gl_FragColor = vec4(vec3(0.34, 0.38, 0.5) * 0.42 * pow(max(0.0, 1.0 - d), 3.0), 1.0); }',
    }),
  );
  halo.userData.veil = true;
  const veils = [0, 1].map((i) => {
    const cloud = thinCloud(110, 22, 3.7 * i + 1.3);
    cloud.mesh.position.set(8 - 4 * i, 17 + 6 * i, -92 + i);
    return cloud;
  });
  const hill = ground(
    90,
    (x, z) => 5.5 * Math.exp(-(((x + 9) / 15) ** 2) - (z / 16) ** 2) + 2.6 * Math.exp(-(((x - 22) / 16) ** 2)) - 3.2 - 0.002 * x * x,
    171,
  );
  hill.position.z = -56;
  const dome = makeDome();
  dome.body.position.set(-9, 2.05, -56);
  dome.body.rotation.y = 0.5;
  scene.add(sky.mesh, moon, hill, dome.body, ...veils.map((v) => v.mesh));
  for (const [x, y, z, height, seed] of [
    [-17, -0.4, -52, 5.2, 5],
    [-20.5, -1.4, -50, 6, 6],
    [21, -1.2, -50, 6.5, 7],
    [17.6, -1.4, -48, 4.6, 8],
  ] as const) {
    const tree = makeTree(height, seed);
    tree.position.set(x, y, z);
    scene.add(tree);
  }
  const light = new THREE.DirectionalLight(0x9fb6ff, 1.2);
  light.position.set(20, 30, -20);
  scene.add(light, new THREE.HemisphereLight(0x5f78b8, 0x1c1a18, 0.9));
  const front = new THREE.DirectionalLight(0x8fa8e8, 0.35);
  front.position.set(-4, 6, 10);
  scene.add(front);
  return {
    name: 'moonrise',
    frames: 120,
    scene,
    camera,
    subject: moon,
    shutter: 0.5,
    exposure: 1.15,
    focus: 60,
    lensRadius: 0,
    samplesAt: () => 2,
    pose(frame) {
      camera.position.set(0.1 * wander(frame, 38, 181), 4 + 0.1 * wander(frame, 33, 182), 0);
      camera.lookAt(0.3 * wander(frame, 41, 183), 11 + 0.25 * wander(frame, 36, 184), -100);
      moon.position.set(15.5 + 0.006 * frame, 20.5 + 0.022 * frame, -100);
      halo.position.copy(moon.position);
      halo.position.z = -99;
      sky.drift(frame);
      for (const veil of veils) veil.drift(frame);
      moon.updateMatrixWorld();
    },
    points: () => ({ 'moon centre': moon.getWorldPosition(new THREE.Vector3()), ...rimPoints('moon rim', 12, moon, MOON_RADIUS) }),
  };
}
