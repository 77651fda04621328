import { NextResponse } from 'next/server';
import { handle } from '../../../server/http/http';
import { getWorkshop } from '../../../server/workshop/workshop';

export const dynamic = 'force-dynamic';

export const GET = handle(async () => {
  await getWorkshop();
  return NextResponse.json({ ok: true });
});
