import { strFromU8, strToU8 } from 'fflate';
import type { SavePoint } from './db';
import { soundPoint } from './rows';
import { readSong } from './songRecord';

const FOLDER = 'points/';

/** Whether a part of a zip is a save point. */
export const isPointPart = (part: string) => /^points\/[^/]+\.json$/.test(part);

/** Save points as parts of a zip, a file each. */
export function pointParts(points: readonly SavePoint[]): Record<string, Uint8Array> {
  return Object.fromEntries(
    points.map((point) => [
      `${FOLDER}${encodeURIComponent(point.id)}.json`,
      strToU8(`${JSON.stringify(point)}\n`),
    ]),
  );
}

/** Save points as they are read, and what of them could not be, a sentence each. */
export interface ReadPoints {
  points: SavePoint[];
  problems: string[];
}

export function readPointParts(parts: Readonly<Record<string, Uint8Array>>): ReadPoints {
  const points: SavePoint[] = [];
  let lost = 0;
  for (const part of Object.keys(parts).filter(isPointPart).sort()) {
    const point = pointOf(parts[part]);
    if (point) points.push(point);
    else lost++;
  }
  const problems =
    lost > 0
      ? [
          `${lost === 1 ? 'A save point' : `${lost} save points`} could not be read and ${lost === 1 ? 'was' : 'were'} left out.`,
        ]
      : [];
  return { points, problems };
}

function pointOf(bytes: Uint8Array): SavePoint | undefined {
  try {
    const row = JSON.parse(strFromU8(bytes)) as SavePoint | null;
    const point = soundPoint(row);
    const read = readSong(row?.body);
    return point && 'song' in read ? { ...point, body: read.song } : undefined;
  } catch {
    return undefined;
  }
}
