import type { Chart } from '@/core/deliver';
import type { Paper } from '@/core/notation';
import { drawPage, fontUrl, readyToDraw } from './draw';
import { SIGNS } from './letters';

/** The musical font as text that a file can take along. */
async function fontInFile(): Promise<string> {
  const bytes = new Uint8Array(await (await fetch(fontUrl())).arrayBuffer());
  let letters = '';
  // In pieces: a call has no room for so many arguments.
  for (let at = 0; at < bytes.length; at += 0x8000) {
    letters += String.fromCharCode(...bytes.subarray(at, at + 0x8000));
  }
  return `data:font/woff2;base64,${btoa(letters)}`;
}

/** Each page as the text of an SVG that stands by itself: with the signs it is set in. */
export async function chartFiles({ notation, pages }: Chart, paper: Paper): Promise<string[]> {
  await readyToDraw();
  const font = await fontInFile();
  return pages.map((page) => {
    const box = document.createElement('div');
    drawPage(box, page, notation, paper);
    const svg = box.querySelector('svg')!;
    const style = document.createElementNS(svg.namespaceURI, 'style');
    style.textContent = `@font-face{font-family:"${SIGNS}";src:url("${font}") format("woff2")}`;
    svg.prepend(style);
    return `<?xml version="1.0" encoding="UTF-8"?>\n${new XMLSerializer().serializeToString(svg)}\n`;
  });
}
