import { findEdgeBody } from '../../../../../server/http/request-schema';
import { matteOf, orderRoute } from '../order-route';

export const POST = orderRoute({ kind: 'find edge', body: findEdgeBody, subject: matteOf, doing: 'Finding the trailing edge of' });
