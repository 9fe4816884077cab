import { type Notehead, ACCENT_FROM, GHOST_BELOW } from '@/core/model';
import type { Hit } from '@/core';
import { HEAD_SHAPES } from '@/look/Notehead';

export type Ink = CanvasRenderingContext2D;

const shapes = new Map<string, Path2D>();
/** A path that is made once however often it is drawn. */
export function shape(path: string): Path2D {
  let made = shapes.get(path);
  if (!made) shapes.set(path, (made = new Path2D(path)));
  return made;
}

/** All that a notehead's picture depends on. */
interface Look {
  head: Notehead;
  halfOpen: boolean;
  ghost: boolean;
  accent: boolean;
  outline: boolean;
  size: number;
  colour: string;
}

/** A picture reaches so far around its head: an accent stands 11 above it, brackets 10 beside. */
const REACH = 14;
/** Pictures are made for quarters of a pixel across, so that a head stays on its stem. */
const PHASES = 4;

const pictures = new Map<string, OffscreenCanvas>();

/**
 * Draws the head of a hit around a place. A sheet shows hundreds of heads of a few looks, and each
 * preview draws them anew: each look is drawn once and then copied, pixel for pixel.
 * @param density device pixels a unit of the ink
 */
export function drawHead(
  ink: Ink,
  head: Notehead,
  { articulation, velocity }: Hit,
  style: Pick<Look, 'outline' | 'size' | 'colour'> & { density: number },
  x: number,
  y: number,
): void {
  const { density, ...rest } = style;
  const look: Look = {
    ...rest,
    head,
    halfOpen: articulation === 'half-open',
    ghost: velocity < GHOST_BELOW,
    accent: velocity >= ACCENT_FROM,
  };
  const quarter = Math.round(x * density * PHASES);
  const left = Math.floor(quarter / PHASES);
  const phase = quarter - left * PHASES;
  const key = [...Object.values(look), phase, density].join();
  let picture = pictures.get(key);
  if (!picture) {
    // Another scheme or another screen brings other looks: old ones are not kept for ever.
    if (pictures.size > 800) pictures.clear();
    pictures.set(key, (picture = pictureOf(look, phase, density)));
  }
  const reach = Math.ceil(REACH * density);
  ink.drawImage(
    picture,
    (left - reach) / density,
    (Math.round(y * density) - reach) / density,
    picture.width / density,
    picture.height / density,
  );
}

function pictureOf(look: Look, phase: number, density: number): OffscreenCanvas {
  const reach = Math.ceil(REACH * density);
  const picture = new OffscreenCanvas(2 * reach + 1, 2 * reach + 1);
  const ink = picture.getContext('2d')!;
  ink.setTransform(density, 0, 0, density, reach + phase / PHASES, reach);
  ink.strokeStyle = look.colour;
  ink.fillStyle = look.colour;
  if (look.accent) {
    ink.lineWidth = 1.3;
    ink.stroke(shape('M-4 -11L4 -8.5L-4 -6'));
  }
  ink.scale(look.size, look.size);
  for (const { fill, stroke, strokeWidth = 1.2 } of HEAD_SHAPES[look.head]) {
    ink.lineWidth = strokeWidth;
    if (fill && !look.outline) ink.fill(shape(fill));
    else ink.stroke(shape((fill ?? stroke)!));
  }
  // Half open: the circle of an open hat, with a line under it.
  if (look.halfOpen) ink.fillRect(-6.5, 6.5, 13, 1.5);
  if (look.ghost) {
    ink.lineWidth = 1.2;
    ink.stroke(shape('M-7 -4Q-10 0 -7 4M7 -4Q10 0 7 4'));
  }
  return picture;
}
