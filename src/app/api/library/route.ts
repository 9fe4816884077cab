import { serverLibrary } from '@/server/library';

/** The rows of all grooves this server can give; fingerprints in base 64. */
export async function GET(): Promise<Response> {
  const { grooves, report } = await serverLibrary();
  const rows = grooves.map(({ print, ...row }) => ({
    ...row,
    print: Buffer.from(print).toString('base64'),
  }));
  return Response.json({ grooves: rows, report });
}
