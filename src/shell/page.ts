import { mayWrite, outFolder } from './outFolder';
import { directoryOpen, fileOpen, type FileWithDirectoryAndFileHandle } from 'browser-fs-access';
import { saveAs } from 'file-saver';
import type { Platform } from '@/state/platform';
import { install, takeNewVersion } from './installed';
import { printPages } from './print';

let openFilePicker: () => void = () => {};

/** Says what opens the field for a file to import. */
export function onChooseFile(open: () => void): () => void {
  openFilePicker = open;
  return () => {
    openFilePicker = () => {};
  };
}

/** The page of a browser, as the state asks for it. */
export const page: Platform = {
  saveFile: (content, name, type) => saveAs(new Blob([content], { type }), name),

  canOpenFolder: () => 'showDirectoryPicker' in window,

  async openFolder(purpose = 'deliveries') {
    const { showDirectoryPicker } = window as unknown as {
      showDirectoryPicker(options: object): Promise<FileSystemDirectoryHandle>;
    };
    try {
      const folder = await showDirectoryPicker({ id: purpose, mode: 'readwrite' });
      return outFolder(folder);
    } catch (error) {
      if (error instanceof DOMException && error.name === 'AbortError') return undefined;
      throw error;
    }
  },

  async drawChart(chart, paper) {
    const { chartFiles } = await import('@/look/chart');
    return chartFiles(chart, paper);
  },

  async drawSong(song) {
    const { songPicture } = await import('@/look/songPicture');
    return songPicture(song);
  },

  async keptFolder(folder) {
    return (await mayWrite(folder)) ? outFolder(folder) : undefined;
  },

  print: (pages, paper, title) => printPages(pages, paper, title),

  afterFrame(run) {
    // A hidden page draws no frames, and must be heard all the same.
    if (document.hidden) setTimeout(run);
    else requestAnimationFrame(() => setTimeout(run));
  },

  reachField(name) {
    const field = fieldNamed(name);
    if (!field) return false;
    field.focus();
    if (field instanceof HTMLInputElement || field instanceof HTMLTextAreaElement) field.select();
    else if (field.getAttribute('role') === 'combobox') press(field);
    else field.click();
    return true;
  },

  focusOn(selector) {
    const found = [...document.querySelectorAll<HTMLElement>(selector)].find(
      (element) => element.getClientRects().length > 0,
    );
    found?.focus();
    return found !== undefined;
  },

  async chooseFolder() {
    try {
      const found = await directoryOpen({ recursive: true });
      // An empty folder is handed over as itself.
      const files = (found as (File & FileWithDirectoryAndFileHandle)[]).filter(
        (one) => one instanceof File,
      );
      const path = (file: File) => file.webkitRelativePath.split('/');
      const name = files[0] ? path(files[0])[0] : '';
      const folder = files.find((file) => path(file).length === 2)?.directoryHandle;
      return { name, files, ...(folder && { folder }) };
    } catch (error) {
      if (error instanceof DOMException && error.name === 'AbortError')
        return { name: '', files: [] };
      throw error;
    }
  },

  async chooseOne(endings) {
    try {
      return await fileOpen({ extensions: [...endings] });
    } catch (error) {
      if (error instanceof DOMException && error.name === 'AbortError') return undefined;
      throw error;
    }
  },

  async chooseSome(endings) {
    try {
      return await fileOpen({ extensions: [...endings], multiple: true });
    } catch (error) {
      if (error instanceof DOMException && error.name === 'AbortError') return [];
      throw error;
    }
  },

  chooseFile: () => openFilePicker(),

  takeNewVersion,
  install,
};

const REACHED = 'input, textarea, button, [role=combobox], [role=button]';

/** The first field or button that is shown and has this name, or else one whose name begins so. */
function fieldNamed(name: string): HTMLElement | undefined {
  const shown = [...document.querySelectorAll<HTMLElement>(REACHED)].filter(
    (element) => nameOf(element).startsWith(name) && element.getClientRects().length > 0,
  );
  return shown.find((element) => nameOf(element) === name) ?? shown[0];
}

function nameOf(element: HTMLElement): string {
  const own = element.getAttribute('aria-label');
  if (own) return own.toLowerCase();
  const by = (element.getAttribute('aria-labelledby') ?? '').split(' ');
  const labels = by.map((id) => document.getElementById(id)?.textContent ?? '').join(' ');
  const labelled =
    'labels' in element ? (element as HTMLInputElement).labels?.[0]?.textContent : '';
  const words = element.matches('button, [role=button]') ? element.textContent : '';
  return (labels || labelled || words || '').trim().toLowerCase();
}

/** A list of choices opens when it is pressed, not when it is clicked. */
function press(field: HTMLElement): void {
  field.dispatchEvent(new MouseEvent('mousedown', { bubbles: true, button: 0 }));
}
