import type { Shot } from '../parts/camera-film';
import { bellTower } from './bell-tower';
import { benchLoupe } from './bench-loupe';
import { cartArrive } from './cart-arrive';
import { dialPush } from './dial-push';
import { domeClose } from './dome-close';
import { domeDrop, loftDrop } from './drops';
import { figureA, figureB } from './figures';
import { hillWide } from './hill-wide';
import { deskPlate, menderTake1, menderTake2 } from './mender-takes';
import { moonrise } from './moonrise';
import { shopPan } from './shop-pan';
import { streetTram } from './street-tram';
import { tossKettle, tossLantern } from './toss';

/** Every shot of the film by name. */
export const SHOTS: Readonly<Record<string, () => Shot>> = {
  'street-tram': streetTram,
  'shop-pan': shopPan,
  'bench-loupe': benchLoupe,
  'dial-push': dialPush,
  moonrise,
  'hill-wide': hillWide,
  'dome-close': domeClose,
  'mender-take-1': menderTake1,
  'mender-take-2': menderTake2,
  'desk-plate': deskPlate,
  'toss-lantern': tossLantern,
  'toss-kettle': tossKettle,
  'loft-drop': loftDrop,
  'dome-drop': domeDrop,
  'figure-a': figureA,
  'figure-b': figureB,
  'bell-tower': bellTower,
  'cart-arrive': cartArrive,
};
