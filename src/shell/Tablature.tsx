'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { WhileOpen } from '@/look/WhileOpen';
import { isWrittenInto } from '@/look/writtenInto';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useEffect, useMemo, useRef, useState, type RefObject } from 'react';
import { readTab, writeTab } from '@/core';
import { barsOf, hitCount, onUsualKit } from '@/core/pattern';
import { pastedElse } from '@/state/acts';
import { closeDialog, openDialog } from '@/state/dialogs/dialogs';
import { copiedHits } from '@/state/shape/clips';
import { goToStage } from '@/state/routes';
import { addPatternOf } from '@/state/shape/shape';
import { kitOf, shownPattern, useWorkbench } from '@/state/store';
import { notify } from '@/state/notices/notices';

/** A text is worth offering as a pattern where something of it can be read. */
const looksLikeTab = (text: string): boolean =>
  text.length < LONGEST_LOOKED_AT && readTab(text, { id: 'pasted' }).pattern !== undefined;

/** Longer texts are not looked at while they are pasted. */
const LONGEST_LOOKED_AT = 100_000;

/** The pattern as text, and text as a pattern. */
export function Tablature() {
  const open = useWorkbench((state) => state.dialog === 'tablature');
  const pasted = useRef<string>(undefined);
  useEffect(() => {
    const isInText = ({ target }: ClipboardEvent) =>
      isWrittenInto(target) || (target as HTMLElement).closest?.('[role=dialog]');
    /** Hits that are copied lie on the browser's clipboard as text: what was copied last is pasted. */
    let copied: string | undefined;
    const onCopy = (event: ClipboardEvent) => {
      const { stage } = useWorkbench.getState();
      const hits = isInText(event) || stage !== 'shape' ? undefined : copiedHits();
      if (!hits) return;
      copied = writeTab(onUsualKit(hits, kitOf(useWorkbench.getState()))).text;
      event.clipboardData?.setData('text/plain', copied);
      event.preventDefault();
    };
    const onPaste = (event: ClipboardEvent) => {
      if (isInText(event) || !useWorkbench.getState().history) return;
      const text = event.clipboardData?.getData('text/plain') ?? '';
      const isTab = text !== copied && looksLikeTab(text);
      pastedElse(isTab || (event.clipboardData?.files.length ?? 0) > 0);
      if (!isTab) return;
      // The dialog takes the focus: the browser would paste into it once more.
      event.preventDefault();
      pasted.current = text;
      openDialog('tablature');
    };
    const listeners = { copy: onCopy, cut: onCopy, paste: onPaste };
    for (const [name, listener] of Object.entries(listeners)) {
      document.addEventListener(name as 'copy', listener);
    }
    return () => {
      for (const [name, listener] of Object.entries(listeners)) {
        document.removeEventListener(name as 'copy', listener);
      }
    };
  }, []);
  const close = () => {
    pasted.current = undefined;
    closeDialog();
  };
  return (
    <WhileOpen open={open} onClose={close} maxWidth="md" fullWidth aria-labelledby="tab-title">
      {open && <TablatureBody pasted={pasted} onClose={close} />}
    </WhileOpen>
  );
}

interface BodyProps {
  /** What was pasted from elsewhere. */
  pasted: RefObject<string | undefined>;
  onClose: () => void;
}

function TablatureBody({ pasted, onClose }: BodyProps) {
  const pattern = shownPattern(useWorkbench.getState());
  const written = useMemo(
    () => pattern && writeTab(onUsualKit(pattern, kitOf(useWorkbench.getState()))),
    [pattern],
  );
  const [text, setText] = useState(() => pasted.current ?? written?.text ?? '');
  const read = useMemo(() => readTab(text, { id: 'read' }), [text]);
  const own = text === written?.text;
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(text);
      notify('The tablature is on the clipboard.');
    } catch {
      notify('The browser did not let the text be copied. Select it and copy it by hand.', 'error');
    }
  };
  const take = () => {
    if (!read.pattern || !addPatternOf(read.pattern)) return;
    onClose();
    goToStage('shape');
  };
  const unsaid = written?.lost.said();
  const report = own ? (unsaid ? [unsaid] : []) : read.report;
  return (
    <>
      <DialogTitle id="tab-title">Drum tablature</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.5 }}>
        <Typography variant="body2" sx={{ color: 'text.secondary' }}>
          One line a kit piece, one character a step. Copy this pattern as text, or write or paste
          another one here.
        </Typography>
        <TextField
          autoFocus
          multiline
          rows={16}
          value={text}
          onChange={(event) => setText(event.target.value)}
          slotProps={{
            htmlInput: {
              'aria-label': 'tablature',
              spellCheck: false,
              wrap: 'off',
              style: { fontFamily: 'ui-monospace, monospace', fontSize: 14, whiteSpace: 'pre' },
            },
          }}
        />
        <Box
          role="status"
          tabIndex={0}
          aria-label="report"
          sx={{ minHeight: 44, maxHeight: 110, overflowY: 'auto', fontSize: 12 }}
        >
          {read.pattern && (
            <Box sx={{ fontWeight: 600 }}>
              {hitCount(read.pattern)} hits in {barsOf(read.pattern)}{' '}
              {barsOf(read.pattern) === 1 ? 'bar' : 'bars'}
            </Box>
          )}
          {report.map((sentence) => (
            <Box key={sentence}>{sentence}</Box>
          ))}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>close</Button>
        <Button onClick={() => void copy()}>copy the text</Button>
        <Button variant="contained" onClick={take} disabled={!read.pattern || own}>
          make it a pattern
        </Button>
      </DialogActions>
    </>
  );
}
