'use client';

import Dialog, { type DialogProps } from '@mui/material/Dialog';

/**
 * A dialog that is in the page only while it is open. One that stays and is closed and opened again at
 * once leaves the page behind it hidden from screen readers: its end comes after its next beginning.
 */
export function WhileOpen(props: DialogProps) {
  return props.open ? <Dialog {...props} /> : null;
}
