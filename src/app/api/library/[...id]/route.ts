import { patternOfGroove } from '@/server/library';

/** The hits of one groove. */
export async function GET(
  _: Request,
  { params }: { params: Promise<{ id: string[] }> },
): Promise<Response> {
  const { id } = await params;
  const pattern = await patternOfGroove(id.map(decodeURIComponent).join('/'));
  return pattern
    ? Response.json(pattern)
    : Response.json({ problem: 'There is no such groove in the library.' }, { status: 404 });
}
