import type { Chart } from '@/core/deliver';
import type { Paper } from '@/core/notation';
import { drawPage, fontUrl, readyToDraw } from './draw';
import { LETTERS_FAMILY, lettersUrl, SIGNS } from './letters';

/** A font as a rule that a file can take along. */
async function fontInFile(family: string, url: string, weight = 'normal'): Promise<string> {
  const bytes = new Uint8Array(await (await fetch(url)).arrayBuffer());
  let letters = '';
  // In pieces: a call has no room for so many arguments.
  for (let at = 0; at < bytes.length; at += 0x8000) {
    letters += String.fromCharCode(...bytes.subarray(at, at + 0x8000));
  }
  const data = `data:font/woff2;base64,${btoa(letters)}`;
  return `@font-face{font-family:"${family}";font-weight:${weight};src:url("${data}") format("woff2")}`;
}

/** Each page as the text of an SVG that stands by itself: with the signs and letters it is set in. */
export async function chartFiles({ notation, pages }: Chart, paper: Paper): Promise<string[]> {
  await readyToDraw();
  // With the letters too: boxes are as wide as their words are here.
  const fonts = await Promise.all([
    fontInFile(SIGNS, fontUrl()),
    fontInFile(LETTERS_FAMILY, lettersUrl(), '100 900'),
  ]);
  return pages.map((page) => {
    const box = document.createElement('div');
    drawPage(box, page, notation, paper);
    const svg = box.querySelector('svg')!;
    const style = document.createElementNS(svg.namespaceURI, 'style');
    style.textContent = fonts.join('\n');
    svg.prepend(style);
    return `<?xml version="1.0" encoding="UTF-8"?>\n${new XMLSerializer().serializeToString(svg)}\n`;
  });
}
