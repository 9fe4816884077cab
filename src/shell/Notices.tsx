'use client';

import Button from '@mui/material/Button';
import { useSnackbar } from 'notistack';
import { useEffect } from 'react';
import { useWorkbench } from '@/state/store';
import { dismissNotice } from '@/state/notices/notices';

/** Shows what the workbench has to say. Errors stay until they are put away. */
export function Notices() {
  const notices = useWorkbench((state) => state.notices);
  const { enqueueSnackbar, closeSnackbar } = useSnackbar();
  useEffect(() => {
    for (const { id, message, kind, action, stays, until } of notices) {
      enqueueSnackbar(message, {
        key: id,
        variant: kind === 'error' ? 'error' : 'default',
        autoHideDuration: stays ? null : action ? 12_000 : kind === 'error' ? null : 4000,
        preventDuplicate: true,
        // A press goes through it to the page below; only its buttons take presses.
        style: { pointerEvents: 'none' },
        action: (key) => (
          <>
            {action && (
              <Button
                variant="text"
                color="inherit"
                sx={{ pointerEvents: 'auto' }}
                onClick={() => {
                  action.run();
                  closeSnackbar(key);
                }}
              >
                {action.label}
              </Button>
            )}
            {(!action || (stays && !until)) && (
              <Button
                variant="text"
                color="inherit"
                sx={{ pointerEvents: 'auto' }}
                onClick={() => closeSnackbar(key)}
              >
                put away
              </Button>
            )}
          </>
        ),
      });
      dismissNotice(id);
      const close = () => closeSnackbar(id);
      until?.then(close, close);
    }
  }, [notices, enqueueSnackbar, closeSnackbar]);
  return null;
}
