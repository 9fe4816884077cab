import { Serwist } from '@serwist/window';

/** What is said is shown once the tools are there. */
async function offer(...said: Parameters<typeof import('@/state/notices/notices').offer>) {
  const notices = await import('@/state/notices/notices');
  notices.offer(...said);
}

/** Everything is saved before the page is loaded anew. */
async function saveNow(): Promise<void> {
  const session = await import('@/state/session/session');
  await session.saveNow();
}

/** How often a page that stays open asks whether there is a newer version, in ms. */
const ASK_EVERY = 60 * 60 * 1000;

let keeping: Serwist | undefined;
let waiting = false;

/**
 * Keeps the workbench in the browser, so that it opens without a server. A newer version waits and is
 * offered; a page never works with files of another version than its own.
 */
export function keepVersion(): () => void {
  const { serviceWorker } = navigator;
  // Where a page came by plain http from another machine, browsers have no service workers.
  if (process.env.NODE_ENV !== 'production' || !serviceWorker) return () => {};
  // The first version that is kept takes over what it belongs to; a later one loads all tabs anew.
  let kept = serviceWorker.controller !== null;
  const onController = () => {
    if (kept) void saveNow().finally(() => window.location.reload());
    kept = true;
  };
  serviceWorker.addEventListener('controllerchange', onController);
  const onPrompt = (event: Event) => {
    event.preventDefault();
    prompt = event as InstallPrompt;
  };
  window.addEventListener('beforeinstallprompt', onPrompt);
  const made = new Serwist('/offline.js', { scope: '/' });
  keeping = made;
  made.addEventListener('waiting', () => {
    if (!waiting) {
      void offer(
        'A new version of Verse Loom is ready. To use it, all its tabs are saved and loaded anew.',
        {
          label: 'use it now',
          run: () => void takeNewVersion(),
        },
      );
    }
    waiting = true;
  });
  void made.register().catch(() => undefined);
  const timer = setInterval(() => void made.update().catch(() => undefined), ASK_EVERY);
  return () => {
    clearInterval(timer);
    window.removeEventListener('beforeinstallprompt', onPrompt);
    serviceWorker.removeEventListener('controllerchange', onController);
  };
}

/** Lets the version that waits take over. @returns whether one waits */
export function takeNewVersion(): boolean {
  if (!waiting) {
    void keeping?.update().catch(() => undefined);
    return false;
  }
  void saveNow().finally(() => keeping?.messageSkipWaiting());
  return true;
}

/** What a browser hands over when the workbench could be installed. */
interface InstallPrompt extends Event {
  prompt(): Promise<unknown>;
}

let prompt: InstallPrompt | undefined;

/** Opens the browser's own question. @returns whether it has one */
export function install(): boolean {
  if (!prompt) return false;
  void prompt.prompt();
  prompt = undefined;
  return true;
}
