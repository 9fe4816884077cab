import { refusalOf, type Asked } from './asked';

const asked = (change: Partial<Asked> & { host?: string }) => {
  const { host = 'localhost:3000', ...rest } = change;
  return refusalOf({ method: 'GET', url: '/', headers: { host }, ...rest }, [
    'studio',
    'studio.local',
  ]);
};

test('what browsers ask for is answered, under the names and addresses of this server', () => {
  expect(asked({})).toBeUndefined();
  expect(asked({ method: 'HEAD', url: '/song/x/shape' })).toBeUndefined();
  for (const host of [
    'localhost',
    '127.0.0.1:80',
    '[::1]:3000',
    '192.168.1.7',
    'Studio.local:3000',
    'a.localhost',
  ])
    expect(asked({ host })).toBeUndefined();
});

test('a name that leads here from elsewhere, and none at all, are refused with what to do', () => {
  for (const host of [
    'evil.example',
    'localhost.evil.example',
    'studio.evil',
    '',
    '[::1',
    'a b',
    'x@localhost',
  ])
    expect(asked({ host })).toMatchObject({ status: 421, text: expect.stringContaining('HOSTS') });
  expect(refusalOf({ method: 'GET', url: '/', headers: {} }, [])?.status).toBe(421);
});

test('other methods and addresses that are none are refused', () => {
  for (const method of ['TRACE', 'POST', 'PUT', 'CONNECT', 'OPTIONS', undefined])
    expect(asked({ method })).toMatchObject({ status: 405, headers: { Allow: 'GET, HEAD' } });
  expect(asked({ url: '*' })?.status).toBe(404);
  expect(asked({ url: 'http://localhost/' })?.status).toBe(404);
});
