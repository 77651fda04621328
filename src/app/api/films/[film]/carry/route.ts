import { carryBody } from '../../../../../server/request-schema';
import { matteOf, orderRoute } from '../order-route';

export const POST = orderRoute({ kind: 'carry', body: carryBody, subject: matteOf, doing: 'Carrying' });
