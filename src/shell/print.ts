import type { Paper } from '@/core/notation';

/**
 * Prints pages from a document of their own, so that nothing of the workbench is on them: a sheet a page,
 * without margins of the browser's.
 */
export async function printPages(
  pages: readonly string[],
  paper: Paper,
  title: string,
): Promise<void> {
  const frame = document.createElement('iframe');
  frame.title = 'pages to print';
  frame.style.cssText = 'position:fixed;width:0;height:0;border:0;visibility:hidden';
  document.body.append(frame);
  const { contentDocument, contentWindow } = frame;
  if (!contentDocument || !contentWindow) return frame.remove();
  contentDocument.title = title;
  const style = contentDocument.createElement('style');
  style.textContent = `@page{size:${paper === 'A4' ? 'A4' : 'letter'};margin:0}
html,body{margin:0;padding:0;background:#fff}
svg{display:block;break-after:page;break-inside:avoid}
svg:last-child{break-after:auto}`;
  contentDocument.head.append(style);
  for (const page of pages) {
    const { documentElement } = new DOMParser().parseFromString(page, 'image/svg+xml');
    contentDocument.body.append(contentDocument.adoptNode(documentElement));
  }
  await contentDocument.fonts.ready;
  contentWindow.addEventListener('afterprint', () => frame.remove());
  contentWindow.print();
}
