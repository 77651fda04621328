// Runs in the browser that renders: poses a shot, exposes it and hands pictures back as PNG data.
import * as THREE from 'three';
import { RoomEnvironment } from 'three/examples/jsm/environments/RoomEnvironment.js';
import { FilmCamera, projectPoint, type Shot } from './parts/camera-film';
import { shopPan } from './shots/shop-pan';
import { streetTram } from './shots/street-tram';

const SHOTS: Record<string, () => Shot> = { 'street-tram': streetTram, 'shop-pan': shopPan };

interface Footage {
  shots: string[];
  open(name: string, scale: number): Promise<number>;
  expose(frame: number, samples: number | null): string;
  matte(frame: number, samples: number | null): string | null;
  points(frame: number): Record<string, [number, number]>;
}
declare global {
  interface Window {
    footage: Footage;
  }
}

let camera: FilmCamera | null = null;
let shot: Shot | null = null;
const canvas = document.querySelector('canvas')!;
const opened = (): { camera: FilmCamera; shot: Shot } => {
  if (camera === null || shot === null) throw new Error('open a shot first');
  return { camera, shot };
};

window.footage = {
  shots: Object.keys(SHOTS),
  async open(name, scale) {
    await document.fonts.load('600 64px "Instrument Sans"');
    camera = new FilmCamera(canvas, scale);
    const make = SHOTS[name];
    if (make === undefined) throw new Error(`no shot ${name}`);
    shot = make();
    const room = new THREE.PMREMGenerator(camera.renderer).fromScene(new RoomEnvironment(), 0.06).texture;
    shot.scene.environment = room;
    shot.scene.environmentIntensity = 0.05;
    shot.scene.traverse((o) => {
      // metal and varnish mirror the room; clear glass only a little, or it turns to milk
      if (!(o instanceof THREE.Mesh && o.material instanceof THREE.MeshStandardMaterial)) return;
      if (o.material.metalness <= 0.5 && !(o.material instanceof THREE.MeshPhysicalMaterial)) return;
      o.material.envMap = room;
      o.material.envMapIntensity = o.material.transparent ? 0.1 : 0.4;
    });
    return shot.frames;
  },
  expose(frame, samples) {
    const { camera, shot } = opened();
    camera.expose(shot, frame, samples ?? shot.samplesAt(frame));
    return canvas.toDataURL('image/png');
  },
  matte(frame, samples) {
    const { camera, shot } = opened();
    if (shot.subject === null) return null;
    camera.exposeMatte(shot, frame, samples ?? shot.samplesAt(frame));
    return canvas.toDataURL('image/png');
  },
  points(frame) {
    const { shot } = opened();
    shot.pose(frame);
    shot.camera.clearViewOffset();
    shot.camera.updateMatrixWorld();
    return Object.fromEntries(Object.entries(shot.points()).map(([name, p]) => [name, projectPoint(p, shot.camera)]));
  },
};
