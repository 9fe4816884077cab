import { rowSent } from '@/core/library';
import { jsonAnswer } from '@/server/answer';
import { serverLibrary } from '@/server/library';

/** The rows of all grooves this server can give, and what its families are for. */
export async function GET(request: Request): Promise<Response> {
  const { grooves, families, report, more } = await serverLibrary();
  return jsonAnswer({ grooves: grooves.map(rowSent), families, report, more }, request);
}
