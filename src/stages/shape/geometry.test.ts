import fc from 'fast-check';
import { emptyPattern } from '@/core/model';
import { STEP_RATES } from '@/core/time';
import { geometryOf, laneShare, laneY } from './geometry';

const anyGeometry = fc
  .record({
    bars: fc.integer({ min: 1, max: 16 }),
    rate: fc.constantFrom(...STEP_RATES),
    width: fc.integer({ min: 500, max: 1800 }),
    height: fc.integer({ min: 300, max: 900 }),
  })
  .map(({ bars, rate, width, height }) => {
    const pattern = { ...emptyPattern({ id: 'p', name: 'p', bars }), step: rate.ticks };
    return { pattern, geometry: geometryOf(pattern, {}, width, height) };
  });

test('a press on the line of a step, or a little before it, is that step', () => {
  fc.assert(
    fc.property(anyGeometry, fc.nat(1000), ({ pattern, geometry }, n) => {
      const row = geometry.rows[n % geometry.rows.length];
      const steps = pattern.length / pattern.step;
      const at = (n % steps) * pattern.step;
      expect(geometry.step(geometry.x(at), row)).toBeCloseTo(at, 6);
      expect(geometry.step(geometry.x(at) - geometry.stepWidth(row) * 0.2, row)).toBeCloseTo(at, 6);
      expect(geometry.step(geometry.x(at) + geometry.stepWidth(row) * 0.6, row)).toBeCloseTo(at, 6);
    }),
  );
});

test('a press outside the pattern is its first or last step', () => {
  fc.assert(
    fc.property(anyGeometry, ({ pattern, geometry }) => {
      expect(geometry.step(-500, geometry.rows[0])).toBe(0);
      expect(geometry.step(1e6, geometry.rows[0])).toBeLessThan(pattern.length);
      expect(geometry.step(1e6, geometry.rows[0])).toBeGreaterThanOrEqual(
        pattern.length - 2 * pattern.step,
      );
    }),
  );
});

test('a stem drawn for a velocity is taken hold of at that velocity', () => {
  fc.assert(
    fc.property(anyGeometry, fc.integer({ min: 1, max: 127 }), ({ geometry }, velocity) => {
      for (const row of geometry.rows) {
        const head = row.top + row.height - 3 - geometry.stem(velocity, row);
        expect(geometry.velocity(head, row)).toBe(velocity);
      }
    }),
  );
});

test('higher is louder, and no height is outside what MIDI can say', () => {
  fc.assert(
    fc.property(anyGeometry, fc.integer({ min: -200, max: 1200 }), ({ geometry }, y) => {
      const [row] = geometry.rows;
      const velocity = geometry.velocity(y, row);
      expect(velocity).toBeGreaterThanOrEqual(1);
      expect(velocity).toBeLessThanOrEqual(127);
      expect(geometry.velocity(y - 10, row)).toBeGreaterThanOrEqual(velocity);
    }),
  );
});

test('rows lie below each other, and every height belongs to one', () => {
  fc.assert(
    fc.property(anyGeometry, ({ geometry }) => {
      geometry.rows.slice(1).forEach((row, i) => {
        const above = geometry.rows[i];
        expect(row.top).toBeGreaterThanOrEqual(above.top + above.height);
      });
      for (const row of geometry.rows) {
        expect(geometry.rowAt(row.top + row.height / 2).piece).toBe(row.piece);
      }
    }),
  );
});

test('a step is never too narrow to be pressed: long patterns scroll instead', () => {
  fc.assert(
    fc.property(anyGeometry, ({ geometry }) => {
      expect(geometry.stepWidth(geometry.rows[0])).toBeGreaterThanOrEqual(14.9);
    }),
  );
});

test('a row that is open is tall, a folded one a line, and both keep their hits in reach', () => {
  const pattern = emptyPattern({ id: 'p', name: 'p' });
  const view = { open: ['snare'], folded: ['ride'], hidden: ['crash'] };
  const { rows } = geometryOf(pattern, view, 900, 500);
  const height = (piece: string) => rows.find((row) => row.piece === piece)?.height;
  expect(height('snare')).toBeGreaterThan(200);
  expect(height('ride')).toBeLessThan(24);
  expect(height('crash')).toBeUndefined();
});

test('a lane lies under its own row, and its heights come back as they were drawn', () => {
  const { rows } = geometryOf(
    emptyPattern({ id: 'p', name: 'p' }),
    {},
    900,
    500,
    { rows: 1 },
    'hihat',
  );
  const row = rows.find(({ piece }) => piece === 'hihat')!;
  const below = rows[rows.indexOf(row) + 1];
  expect(below.top).toBeGreaterThanOrEqual(row.top + row.height + row.lane);
  for (const share of [0, 0.3, 1]) expect(laneShare(row, laneY(row, share))).toBeCloseTo(share, 6);
});
