import { jsonAnswer } from '@/server/answer';
import { serverLibrary } from '@/server/library';

/** The rows of all grooves this server can give; fingerprints in base 64. */
export async function GET(request: Request): Promise<Response> {
  const { grooves, report, more } = await serverLibrary();
  const rows = grooves.map(({ print, ...row }) => ({
    ...row,
    print: Buffer.from(print).toString('base64'),
  }));
  return jsonAnswer({ grooves: rows, report, more }, request);
}
