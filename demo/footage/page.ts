// Runs in the browser that renders: poses a shot, exposes it and hands pictures back as PNG data.
import { FilmCamera, mirrorRoom, projectPoint, type Shot } from './parts/camera-film';
import { SHOTS } from './shots/all';

/** Where the camera stood: metres, unit quaternion (x, y, z, w), looking along its −z. */
interface CameraTruth {
  position: number[];
  rotation: number[];
  verticalFovDegrees: number;
}

interface Footage {
  shots: string[];
  open(name: string, scale: number): Promise<number>;
  expose(frame: number, samples: number | null): string;
  matte(frame: number, samples: number | null): string | null;
  truth(frame: number): { points: Record<string, [number, number]>; camera: CameraTruth };
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
    mirrorRoom(shot.scene, camera.renderer);
    shot.pose(0);
    shot.prepare?.(camera);
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
  truth(frame) {
    const { shot } = opened();
    shot.pose(frame);
    const { camera } = shot;
    camera.clearViewOffset();
    camera.updateMatrixWorld();
    const rounded = (n: number): number => Math.round(n * 1e6) / 1e6;
    return {
      points: Object.fromEntries(Object.entries(shot.points()).map(([name, p]) => [name, projectPoint(p, camera)])),
      camera: {
        position: [rounded(camera.position.x), rounded(camera.position.y), rounded(camera.position.z)],
        rotation: [camera.quaternion.x, camera.quaternion.y, camera.quaternion.z, camera.quaternion.w].map(rounded),
        verticalFovDegrees: camera.fov,
      },
    };
  },
};
