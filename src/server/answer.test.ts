import { decodedParts, jsonAnswer } from './answer';

const asks = (tag?: string) =>
  new Request('http://localhost/api/library', tag ? { headers: { 'if-none-match': tag } } : {});

test('what a browser has already is not sent again, and what changed is', async () => {
  const first = jsonAnswer({ grooves: [1] }, asks());
  const tag = first.headers.get('etag')!;
  expect(await first.json()).toEqual({ grooves: [1] });
  for (const known of [tag, `W/${tag}`, `"other", ${tag}`]) {
    const again = jsonAnswer({ grooves: [1] }, asks(known));
    expect([again.status, await again.text()]).toEqual([304, '']);
  }
  expect(jsonAnswer({ grooves: [2] }, asks(tag)).status).toBe(200);
});

test('addresses that mean nothing are none', () => {
  expect(decodedParts(['own', 'a%20b'])).toEqual(['own', 'a b']);
  for (const part of ['%', '%ff', '%E0%A4%A']) expect(decodedParts([part])).toBeUndefined();
  expect(decodedParts(['%252e%252e'])).toEqual(['%2e%2e']);
});
