import type { Song } from '@/core/model';
import { cloth, laidPlaces, placeName } from '@/core/weave';
import { drawCloth } from './drawCloth';
import { TOKENS } from './tokens';

const WIDTH = 1200;
const ROW = 22;
const GAP = 2;
const MARGIN = 24;
/** Room for the name of the song, and for those of its sections. */
const HEAD = 56;
const NAMES = 20;

/** A song as a picture that stands by itself: its cloth, under its name and those of its sections. PNG. */
export async function songPicture(song: Song): Promise<Blob> {
  const tokens = TOKENS.light;
  const woven = cloth(song);
  const rows = woven.rows.filter(({ hits }) => hits.length > 0);
  const high = Math.max(ROW, rows.length * (ROW + GAP));
  const canvas = new OffscreenCanvas(WIDTH + 2 * MARGIN, HEAD + NAMES + high + MARGIN);
  const ink = canvas.getContext('2d')!;
  ink.fillStyle = tokens.ground;
  ink.fillRect(0, 0, canvas.width, canvas.height);
  ink.fillStyle = tokens.ink;
  const { fontFamily } = getComputedStyle(document.body);
  ink.font = `600 24px ${fontFamily}`;
  ink.fillText(song.name, MARGIN, 40, WIDTH);
  const laid = laidPlaces(song);
  const perTick = WIDTH / Math.max(1, woven.length);
  ink.font = `14px ${fontFamily}`;
  ink.fillStyle = tokens.softInk;
  for (const one of laid) {
    const room = (one.end - one.start) * perTick - 6;
    if (room > 12)
      ink.fillText(placeName(song, one), MARGIN + one.start * perTick, HEAD + 13, room);
  }
  ink.translate(MARGIN, HEAD + NAMES);
  // A canvas of the page and one apart are drawn on alike.
  drawCloth(ink as unknown as CanvasRenderingContext2D, {
    cloth: { ...woven, rows },
    rowHeights: rows.map(() => ROW),
    gap: GAP,
    stems: true,
    joins: laid.map(({ start }) => start),
    width: WIDTH,
    tokens,
  });
  return canvas.convertToBlob({ type: 'image/png' });
}
