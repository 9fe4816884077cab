import { isInFront, isWrittenInto } from '@/look/writtenInto';
import { platform } from '@/state/platform';
import { useWorkbench } from '@/state/store';

/** What is worked at on the screen that is shown, and takes the keys of its stage. */
function workElement(): HTMLElement | undefined {
  const marked = [...document.querySelectorAll<HTMLElement>('[data-work]')];
  // The innermost one: a stage may have something that takes more of its keys than the stage itself.
  return marked.findLast((element) => element.getClientRects().length > 0);
}

/** Puts the focus where the work is. */
function focusWork(): void {
  workElement()?.focus({ preventScroll: true });
}

const PRESSED = 'button, a[href], [role=button], [role=tab]';
const MOVED = '[role=slider], .MuiSlider-root, label, [role=combobox], [role=option]';

/**
 * Keeps the focus where the work is: what is pressed with the mouse does not take it, a slider gives it
 * back when it is let go, a field on Enter and Escape, and what goes away leaves it there.
 * @returns a function that ends it
 */
export function keepFocusAtWork(): () => void {
  const onMouseDown = (event: MouseEvent) => {
    const { target } = event;
    // The picture in a button is the button.
    if (event.button !== 0 || !(target instanceof Element)) return;
    if (isInFront(target) || isWrittenInto(target)) return;
    if (target.closest(MOVED) || !target.closest(PRESSED)) return;
    // What is written in a field is kept when the field is left.
    const { activeElement } = document;
    if (isWrittenInto(activeElement)) (activeElement as HTMLElement).blur();
    event.preventDefault();
  };
  const onPointerUp = ({ target }: PointerEvent) => {
    if (!(target instanceof Element)) return;
    if (isInFront(target)) {
      // A choice from a list that was opened gives the focus back, too.
      if (target.closest('[role=option]')) platform.afterFrame(backFromChoice);
      return;
    }
    const { activeElement } = document;
    platform.afterFrame(() => {
      // A field that was pressed, or that the press opened, is written into now.
      if (isWrittenInto(document.activeElement)) return;
      if (activeElement?.matches('input[type=range], [role=slider], input[type=checkbox]')) {
        if (document.activeElement === activeElement) focusWork();
      }
      backIfLost();
    });
  };
  const onKeyDown = ({ key, target }: KeyboardEvent) => {
    if (key !== 'Enter' && key !== 'Escape') return;
    if (isInFront(target)) {
      // A list that is left, or chosen from, gives the focus back.
      if ((target as Element).closest('[role=listbox], [role=menu]')) {
        platform.afterFrame(() => platform.afterFrame(backFromChoice));
      }
      return;
    }
    if (!isWrittenInto(target)) return;
    if (key === 'Enter' && (target as HTMLElement).matches('textarea')) return;
    platform.afterFrame(() => {
      // A field with a value that cannot be taken keeps the focus, to be mended.
      const isWrong = key === 'Enter' && (target as Element).matches('[aria-invalid=true]');
      if (document.activeElement === target && !isWrong) focusWork();
      backIfLost();
    });
  };
  let looking = false;
  const look = () => {
    if (looking) return;
    looking = true;
    platform.afterFrame(() => {
      looking = false;
      backIfLost();
    });
  };
  document.addEventListener('mousedown', onMouseDown, true);
  document.addEventListener('pointerup', onPointerUp, true);
  document.addEventListener('keydown', onKeyDown, true);
  document.addEventListener('focusout', look);
  const end = useWorkbench.subscribe(look);
  return () => {
    end();
    document.removeEventListener('mousedown', onMouseDown, true);
    document.removeEventListener('pointerup', onPointerUp, true);
    document.removeEventListener('keydown', onKeyDown, true);
    document.removeEventListener('focusout', look);
  };
}

function backFromChoice(): void {
  const { activeElement } = document;
  const opens = activeElement?.matches('[role=combobox], [aria-haspopup]');
  if (opens && !isInFront(activeElement)) focusWork();
}

/** What had the focus is gone: the work has it then. */
function backIfLost(): void {
  const { activeElement } = document;
  const lost = !activeElement || activeElement === document.body;
  if (lost && !document.querySelector('.MuiModal-root')) focusWork();
}
