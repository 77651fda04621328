import { smoothBody } from '../../../../../server/http/request-schema';
import { matteOf, orderRoute } from '../order-route';

export const POST = orderRoute({ kind: 'smooth', body: smoothBody, subject: matteOf, doing: 'Smoothing' });
