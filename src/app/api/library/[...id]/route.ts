import { decodedParts, jsonAnswer } from '@/server/answer';
import { patternOfGroove } from '@/server/library';

/** The hits of one groove. */
export async function GET(
  request: Request,
  { params }: { params: Promise<{ id: string[] }> },
): Promise<Response> {
  const parts = decodedParts((await params).id);
  const pattern = parts && (await patternOfGroove(parts.join('/')));
  return pattern
    ? jsonAnswer(pattern, request)
    : Response.json({ problem: 'There is no such groove in the library.' }, { status: 404 });
}
