'use client';

import Dialog, { type DialogProps } from '@mui/material/Dialog';
import type { MouseEvent } from 'react';

/**
 * A dialog that is in the page only while it is open. One that stays and is closed and opened again at
 * once leaves the page behind it hidden from screen readers: its end comes after its next beginning.
 *
 * While a field of it holds what cannot be kept, the button that does what the dialog is about leads to that
 * field: nothing is done with a value that is no longer shown.
 */
export function WhileOpen(props: DialogProps) {
  return props.open ? <Dialog {...props} onClickCapture={mendFirst} /> : null;
}

function mendFirst(event: MouseEvent<HTMLElement>): void {
  const isMain = (event.target as Element).closest('.MuiButton-contained') !== null;
  const wrong = event.currentTarget.querySelector<HTMLElement>('input[aria-invalid=true]');
  if (!isMain || !wrong) return;
  event.preventDefault();
  event.stopPropagation();
  wrong.focus();
}
