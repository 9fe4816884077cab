import { readFileSync } from 'node:fs';
import { Element, RenderContext, VexFlow } from 'vexflow/core';
import { SIGNS } from './letters';

/** An area of a page, in the engraver's own units: ten to a staff space. */
export interface Box {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** Something that is drawn: a sign or words, a stem, a beam, a bracket, a slur or a frame. */
export interface Inked extends Box {
  kind: 'text' | 'stem' | 'beam' | 'line' | 'curve' | 'frame';
  text?: string;
  /** How the engraver calls what it belongs to, from the outside in. */
  groups: readonly string[];
  /** The note it belongs to; those of one note have one number. */
  note?: number;
  /** Of a beam: its upper edge at both ends, and how thick it is. */
  slope?: { from: number; to: number; thick: number };
}

const MODULES = 'node_modules';

interface Metrics {
  glyphBBoxes: Record<string, { bBoxNE: [number, number]; bBoxSW: [number, number] }>;
  glyphAdvanceWidths: Record<string, number>;
}

/** The musical font's own measures by sign, in staff spaces. An em has four of them (SMuFL). */
function signsMeasured(): Map<string, { advance: number; box: readonly number[] }> {
  const { glyphBBoxes, glyphAdvanceWidths } = JSON.parse(
    readFileSync(`${MODULES}/@vexflow-fonts/bravura/metadata.json`, 'utf8'),
  ) as Metrics;
  const names = readFileSync(`${MODULES}/vexflow/build/esm/src/glyphs.js`, 'utf8');
  const signs = new Map<string, { advance: number; box: readonly number[] }>();
  for (const [, name, code] of names.matchAll(/Glyphs\["(\w+)"\] = "\\u(\w{4})"/g)) {
    const box = glyphBBoxes[name];
    if (!box) continue;
    signs.set(String.fromCharCode(parseInt(code, 16)), {
      advance: glyphAdvanceWidths[name] ?? box.bBoxNE[0],
      box: [...box.bBoxSW, ...box.bBoxNE],
    });
  }
  return signs;
}

const measured = signsMeasured();
/** Letters of a text font, roughly, in ems. */
const LETTER = 0.54;
const ASCENT = 0.72;
const DESCENT = 0.2;

/** The ink of words at 0, 0: musical signs by their font, letters as all alike. */
function inkOf(text: string, font: string) {
  const px = Number(
    /([\d.]+)px/.exec(font)?.[1] ?? (Number(/([\d.]+)pt/.exec(font)?.[1] ?? 0) * 4) / 3,
  );
  let [width, left, right, up, down] = [0, Infinity, 0, 0, 0];
  for (const sign of text) {
    const known = measured.get(sign);
    const scale = known ? px / 4 : px;
    const [x0, y0, x1, y1] = known?.box ?? [0, -DESCENT, LETTER, ASCENT];
    left = Math.min(left, width + x0 * scale);
    right = Math.max(right, width + x1 * scale);
    up = Math.max(up, y1 * scale);
    down = Math.max(down, -y0 * scale);
    width += (known?.advance ?? LETTER) * scale;
  }
  return { px, width, left: text ? left : 0, right, up, down };
}

class FontInShort {
  fontStyle = '';
  fontWeight = '';
  fontSize = '';
  fontFamily = '';
  set font(short: string) {
    const [, style = '', weight = '', size = '10pt', family = ''] =
      /^(italic )?(bold |\d+ )?([\d.]+p[xt]) (.*)$/.exec(short) ?? [];
    [this.fontStyle, this.fontWeight] = [style.trim(), weight.trim()];
    [this.fontSize, this.fontFamily] = [size, family];
  }
}

/** Measures without a screen, for all that the engraver sets. */
export function measureByFont(): void {
  VexFlow.setFonts(SIGNS);
  const context = {
    font: '',
    measureText(text: string) {
      const { px, width, left, right, up, down } = inkOf(text, this.font);
      return {
        width,
        actualBoundingBoxLeft: -left,
        actualBoundingBoxRight: right,
        actualBoundingBoxAscent: up,
        actualBoundingBoxDescent: down,
        fontBoundingBoxAscent: px,
        fontBoundingBoxDescent: px / 4,
      };
    },
  };
  // A font in short is taken apart by what the browser makes of it.
  Object.assign(globalThis, { document: { createElement: () => ({ style: new FontInShort() }) } });
  Element.setTextMeasurementCanvas({
    getContext: () => context,
  } as unknown as HTMLCanvasElement);
}

/** A context that keeps where everything is drawn. */
export class Recorder extends RenderContext {
  readonly inked: Inked[] = [];
  private fonts: string[] = [];
  private face = '10px sans';
  private groups: { name: string; note?: number }[] = [];
  private notes = 0;
  private path: [number, number][] = [];
  private isCurve = false;
  private isFrame = false;
  private width = 1;
  set fillStyle(_: string) {}
  get fillStyle() {
    return '';
  }
  set strokeStyle(_: string) {}
  get strokeStyle() {
    return '';
  }
  set font(_: string) {}
  get font() {
    return this.face;
  }

  private put(kind: Inked['kind'], box: Box, more: Partial<Inked> = {}): void {
    const note = this.groups.findLast((group) => group.note !== undefined)?.note;
    this.inked.push({
      kind,
      ...box,
      groups: this.groups.map(({ name }) => name),
      ...(note !== undefined && { note }),
      ...more,
    });
  }

  private boxOfPath(): Box {
    const xs = this.path.map(([x]) => x);
    const ys = this.path.map(([, y]) => y);
    return {
      left: Math.min(...xs),
      right: Math.max(...xs),
      top: Math.min(...ys),
      bottom: Math.max(...ys),
    };
  }

  fillText(text: string, x: number, y: number): this {
    const { left, right, up, down } = inkOf(text, this.face);
    if (text.trim() !== '') {
      this.put(
        'text',
        { left: x + left, right: x + right, top: y - up, bottom: y + down },
        { text },
      );
    }
    return this;
  }

  fillRect(x: number, y: number, width: number, height: number): this {
    this.put('line', {
      left: Math.min(x, x + width),
      right: Math.max(x, x + width),
      top: Math.min(y, y + height),
      bottom: Math.max(y, y + height),
    });
    return this;
  }

  fill(): this {
    if (this.path.length === 0) return this;
    const box = this.boxOfPath();
    if (this.isCurve) this.put('curve', box);
    else if (this.path.length >= 4) {
      const [from, , to] = this.path;
      const ends = [from, to].sort(([a], [b]) => a - b);
      const ysAt = (x: number) =>
        this.path.filter((p) => Math.abs(p[0] - x) < 0.01).map(([, y]) => y);
      const [first, last] = ends.map(([x]) => ysAt(x));
      const thick = Math.max(...first) - Math.min(...first);
      this.put('beam', box, { slope: { from: Math.min(...first), to: Math.min(...last), thick } });
    }
    return this;
  }

  stroke(): this {
    if (this.path.length === 0) return this;
    const box = this.boxOfPath();
    const half = this.width / 2;
    if (this.isCurve) this.put('curve', box);
    else if (this.isFrame) this.put('frame', box);
    else if (box.right - box.left < 0.01)
      this.put('stem', { ...box, left: box.left - half, right: box.right + half });
    else this.put('line', { ...box, top: box.top - half, bottom: box.bottom + half });
    return this;
  }

  beginPath(): this {
    this.path = [];
    this.isCurve = this.isFrame = false;
    return this;
  }
  moveTo(x: number, y: number): this {
    this.path.push([x, y]);
    return this;
  }
  lineTo(x: number, y: number): this {
    this.path.push([x, y]);
    return this;
  }
  bezierCurveTo(ax: number, ay: number, bx: number, by: number, x: number, y: number): this {
    // No point of the curve lies outside what its ends and controls hold; a slur is three quarters as high.
    this.path.push([ax, ay], [bx, by], [x, y]);
    this.isCurve = true;
    return this;
  }
  quadraticCurveTo(ax: number, ay: number, x: number, y: number): this {
    this.path.push([ax, ay], [x, y]);
    this.isCurve = true;
    return this;
  }
  rect(x: number, y: number, width: number, height: number): this {
    this.path.push([x, y], [x + width, y + height]);
    this.isFrame = true;
    return this;
  }

  openGroup(name = ''): void {
    this.groups.push({ name, ...(name === 'stavenote' && { note: this.notes++ }) });
  }
  closeGroup(): void {
    this.groups.pop();
  }
  save(): this {
    this.fonts.push(this.face);
    return this;
  }
  restore(): this {
    this.face = this.fonts.pop() ?? this.face;
    return this;
  }
  setFont(font?: string | object, size?: string | number, weight?: string | number): this {
    const { family, size: given } = (typeof font === 'object' ? font : { family: font, size }) as {
      family?: string;
      size?: string | number;
    };
    const px = typeof given === 'number' ? `${given}pt` : (given ?? '10pt');
    this.face =
      size === undefined && typeof font === 'string' ? font : `${weight ?? ''} ${px} ${family}`;
    return this;
  }
  getFont(): string {
    return this.face;
  }
  measureText(text: string) {
    const { left, right, up, down, width } = inkOf(text, this.face);
    return { x: left, y: -up, width, height: up + down, right };
  }
  setLineWidth(width: number): this {
    this.width = width;
    return this;
  }

  setFillStyle = (): this => this;
  setBackgroundFillStyle = (): this => this;
  setStrokeStyle = (): this => this;
  setShadowColor = (): this => this;
  setShadowBlur = (): this => this;
  setLineCap = (): this => this;
  setLineDash = (): this => this;
  scale = (): this => this;
  resize = (): this => this;
  clearRect = (): this => this;
  pointerRect = (): this => this;
  arc = (): this => this;
  closePath = (): this => this;
  clear(): void {}
  openRotation(): void {}
  closeRotation(): void {}
  add(): void {}
}

/** Heads, flags and the strokes through stems join with stems and beams; all else keeps clear of them. */
const JOINS = /^[\uE0A0-\uE0FF\uE1D0-\uE1FF\uE220-\uE25F]+$/;
/** As far as signs may touch. */
const TOUCH = 1.2;

const joins = ({ text, groups }: Inked) =>
  groups.includes('flag') || (text !== undefined && JOINS.test(text));

/** The upper and lower edge of what is drawn, where it lies over these places from left to right. */
function edgesAt({ slope, left, right, top, bottom }: Inked, box: Box): [number, number] {
  if (!slope) return [top, bottom];
  const at = (x: number) =>
    slope.from + ((slope.to - slope.from) * (x - left)) / Math.max(0.01, right - left);
  const ys = [Math.max(left, box.left), Math.min(right, box.right)].map(at);
  return [Math.min(...ys), Math.max(...ys) + slope.thick];
}

const isThin = ({ kind, groups }: Inked) => kind === 'stem' || groups.includes('stavebarline');

function overlap(a: Inked, b: Inked): boolean {
  const wide = Math.min(a.right, b.right) - Math.max(a.left, b.left);
  if (wide <= (isThin(a) || isThin(b) ? 0 : TOUCH)) return false;
  const [topA, bottomA] = edgesAt(a, b);
  const [topB, bottomB] = edgesAt(b, a);
  return Math.min(bottomA, bottomB) - Math.max(topA, topB) > TOUCH;
}

/** Whether two things that lie over each other belong so. */
function belong(a: Inked, b: Inked): boolean {
  const [text, other] = a.kind === 'text' ? [a, b] : [b, a];
  if (text.kind !== 'text') return true;
  if (other.kind === 'frame') return text.groups.length === 0;
  if (other.groups.includes('stavebarline')) return text.note === undefined;
  if (other.kind === 'text') {
    if (text.note !== other.note || !joins(text) || !joins(other)) return false;
    // Heads of a chord a second apart stand on both sides of its stem.
    const wide = Math.min(text.right, other.right) - Math.max(text.left, other.left);
    return !(isHead(text) && isHead(other)) || wide < 4;
  }
  return joins(text);
}

const isHead = ({ text }: Inked) => text !== undefined && /^[\uE0A0-\uE0F0]/.test(text);

/** Lines that are not those of staves and ledger lines, which lie under everything. */
const OF_ITS_OWN = new Set(['tuplet', 'stavebarline']);

/** The pairs of things on a page that lie over each other and do not belong so. */
export function overlapsIn(inked: readonly Inked[]): [Inked, Inked][] {
  const drawn = inked
    .filter(({ kind, groups }) => kind !== 'line' || groups.some((name) => OF_ITS_OWN.has(name)))
    .sort((a, b) => a.left - b.left);
  const found: [Inked, Inked][] = [];
  drawn.forEach((one, i) => {
    for (let j = i + 1; j < drawn.length && drawn[j].left < one.right; j++) {
      if (overlap(one, drawn[j]) && !belong(one, drawn[j])) found.push([one, drawn[j]]);
    }
  });
  return found;
}
