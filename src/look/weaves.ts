/** How to draw a hatch in a tile of 8 by 8 units: line segments, or dots where both ends are one. */
type Segment = readonly [x1: number, y1: number, x2: number, y2: number];

/**
 * One weave a dye, so that colour is never the only sign. Lines that leave a tile on one side come
 * in on the other.
 */
const WEAVES: readonly (readonly Segment[])[] = [
  // twill right
  [
    [0, 8, 8, 0],
    [-1, 1, 1, -1],
    [7, 9, 9, 7],
  ],
  // weft
  [[0, 4, 8, 4]],
  // basket
  [
    [1, 2, 3, 2],
    [5, 6, 7, 6],
    [6, 1, 6, 3],
    [2, 5, 2, 7],
  ],
  // waves
  [
    [0, 5, 2, 3],
    [2, 3, 4, 5],
    [4, 5, 6, 3],
    [6, 3, 8, 5],
  ],
  // twill left
  [
    [0, 0, 8, 8],
    [-1, 7, 1, 9],
    [7, -1, 9, 1],
  ],
  // seed
  [
    [2, 2, 2, 2],
    [6, 6, 6, 6],
  ],
  // warp
  [[4, 0, 4, 8]],
  // broad twill
  [
    [0, 8, 4, 4],
    [6, 2, 8, 0],
  ],
  // lozenge
  [
    [0, 4, 4, 0],
    [4, 0, 8, 4],
    [8, 4, 4, 8],
    [4, 8, 0, 4],
  ],
  // brick
  [
    [0, 1, 8, 1],
    [0, 5, 8, 5],
    [2, 1, 2, 5],
    [6, 5, 6, 9],
  ],
  // herringbone
  [
    [0, 6, 4, 2],
    [4, 2, 8, 6],
  ],
  // crosses
  [
    [4, 2, 4, 6],
    [2, 4, 6, 4],
  ],
];

const TILE = 8;

/** The weave as the path of an SVG pattern tile. */
export function weavePath(dye: number): string {
  return WEAVES[dye % WEAVES.length]
    .map(([x1, y1, x2, y2]) => `M${x1} ${y1}L${x2 + (x1 === x2 && y1 === y2 ? 0.01 : 0)} ${y2}`)
    .join('');
}

const tiles = new Map<string, HTMLCanvasElement>();

/** A canvas fill of a dye's weave: a tint of the dye under its hatch. Tiles are drawn once. */
export function weaveFill(
  context: CanvasRenderingContext2D,
  dye: number,
  colour: string,
  scale: number,
): CanvasPattern {
  const key = `${dye} ${colour} ${scale}`;
  let tile = tiles.get(key);
  if (!tile) {
    tile = document.createElement('canvas');
    tile.width = tile.height = TILE * scale;
    const ink = tile.getContext('2d')!;
    ink.scale(scale, scale);
    ink.fillStyle = colour;
    ink.globalAlpha = 0.24;
    ink.fillRect(0, 0, TILE, TILE);
    ink.globalAlpha = 0.42;
    ink.strokeStyle = colour;
    ink.lineWidth = 1;
    ink.lineCap = 'round';
    ink.stroke(new Path2D(weavePath(dye)));
    tiles.set(key, tile);
  }
  return context.createPattern(tile, 'repeat')!;
}
