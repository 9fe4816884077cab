import { SaxesParser, type SaxesTagPlain } from 'saxes';

/** An element of a score, with what is in it. */
export interface XmlElement {
  name: string;
  attributes: Readonly<Record<string, string>>;
  text: string;
  children: XmlElement[];
}

/** What was wrong with the XML, from where on it could not be read. */
export interface Damage {
  line: number;
}

/** Deeper nesting than any score has. */
const DEEPEST = 64;

/**
 * Reads XML and hands over each element of the wanted kind as soon as it is whole; nothing else is kept, so
 * that a long score is never in memory twice. Names that a document declares for texts of its own
 * (entities) are not looked up: a score needs none, and a few of them can stand for gigabytes.
 * @param wanted the way from the outermost element to one, "score-partwise/part/measure"
 * @returns what was wrong, if anything was; what came before it was handed over
 */
export function readElements(
  xml: string,
  wanted: ReadonlySet<string>,
  onElement: (path: string, element: XmlElement, parent: Readonly<Record<string, string>>) => void,
  onRoot?: (name: string) => void,
): Damage | undefined {
  const parser = new SaxesParser();
  const open: XmlElement[] = [];
  const paths: string[] = [];
  /** How deep the wanted element is that is being read. */
  let keptFrom = Infinity;
  let damage: Damage | undefined;
  parser.on('error', () => {
    damage ??= { line: parser.line };
  });
  parser.on('opentag', ({ name, attributes }: SaxesTagPlain) => {
    if (damage) return;
    const depth = open.length;
    if (depth >= DEEPEST) {
      damage = { line: parser.line };
      return;
    }
    if (depth === 0) onRoot?.(name);
    const element: XmlElement = { name, attributes, text: '', children: [] };
    const path = depth === 0 ? name : depth > keptFrom ? '' : `${paths[depth - 1]}/${name}`;
    if (depth > keptFrom) open[depth - 1].children.push(element);
    else if (wanted.has(path)) keptFrom = depth;
    open.push(element);
    paths.push(path);
  });
  const addText = (text: string) => {
    if (!damage && open.length > keptFrom) open[open.length - 1].text += text;
  };
  parser.on('text', addText);
  parser.on('cdata', addText);
  parser.on('closetag', () => {
    if (damage || open.length === 0) return;
    const element = open.pop()!;
    const path = paths.pop()!;
    if (open.length !== keptFrom) return;
    keptFrom = Infinity;
    onElement(path, element, open.at(-1)?.attributes ?? {});
  });
  // In pieces, so that reading ends soon after what cannot be read.
  const piece = 1 << 16;
  for (let at = 0; at < xml.length && !damage; at += piece) parser.write(xml.slice(at, at + piece));
  if (!damage) parser.close();
  return damage;
}

export function childOf({ children }: XmlElement, name: string): XmlElement | undefined {
  return children.find((child) => child.name === name);
}

export function childrenOf({ children }: XmlElement, name: string): XmlElement[] {
  return children.filter((child) => child.name === name);
}

/** The text of a child, without the space around it; undefined when there is none. */
export function textOf(element: XmlElement, name: string): string | undefined {
  return childOf(element, name)?.text.trim();
}

/** A number that is said; undefined when none is, or none that counts anything. */
export function numberOf(said: string | undefined): number | undefined {
  const value = said === undefined || said.trim() === '' ? NaN : Number(said);
  return Number.isFinite(value) ? value : undefined;
}
