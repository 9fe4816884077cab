import type { SampleHash, SampleLayer } from '../model';
import { gainBack } from '../sound';
import type { Samples, Velocity } from '../time';

/**
 * A stretch of a sound file as what one way of striking a piece sounds like, cut where it is cut and as loud as it is.
 * @param way the id of the way, and of the layer
 * @param velocity the stroke that it is as loud at as in the file
 */
export function stretchLayer(
  way: string,
  file: { hash: SampleHash; name: string },
  { from, to, velocity }: { from: Samples; to: Samples; velocity: Velocity },
  name: string,
): SampleLayer {
  return {
    id: way,
    from: 'files',
    name,
    articulation: way,
    level: gainBack(velocity),
    tune: 0,
    velocities: [1, 127],
    files: [{ ...file, velocities: [1, 127] }],
    start: from,
    end: to,
    fadeIn: 0,
    fadeOut: 0,
  };
}
