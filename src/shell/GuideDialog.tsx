'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { marked } from 'marked';
import { Fragment, useEffect, useState } from 'react';
import { TERMS } from '@/core/words';
import { WhileOpen } from '@/look/WhileOpen';
import { keyOf } from '@/state/acts';
import { closeDialog, openDialog } from '@/state/dialogs/dialogs';
import { useWorkbench } from '@/state/store';

/** The pages of the guide, by the names of their files. */
export const GUIDE_PAGES = [
  ['ten-minutes', 'Ten minutes'],
  ['gather', 'Gather'],
  ['shape', 'Shape'],
  ['weave', 'Weave'],
  ['balance', 'Balance'],
  ['deliver', 'Deliver'],
] as const;
const WORDS = 'words';
type GuidePage = (typeof GUIDE_PAGES)[number][0] | typeof WORDS;

/** How it is done: the whole way, and a page a stage; the one of the stage that is open comes first. */
export function GuideDialog() {
  const open = useWorkbench((state) => state.dialog === 'guide');
  return (
    <WhileOpen
      open={open}
      onClose={closeDialog}
      maxWidth="md"
      fullWidth
      aria-labelledby="guide-title"
    >
      <Pages />
    </WhileOpen>
  );
}

function Pages() {
  const stage = useWorkbench((state) => (state.history ? state.stage : undefined));
  const own = GUIDE_PAGES.find(([id]) => id === stage)?.[0];
  const [page, setPage] = useState<GuidePage>(own ?? 'ten-minutes');
  const html = usePage(page);
  return (
    <>
      <DialogTitle id="guide-title">Guide</DialogTitle>
      <Box
        role="tablist"
        aria-label="pages of the guide"
        sx={{ display: 'flex', gap: 1, px: 3, pb: 1 }}
      >
        {[...GUIDE_PAGES, [WORDS, 'Words'] as const].map(([id, name]) => (
          <Button
            key={id}
            role="tab"
            aria-selected={page === id}
            variant={page === id ? 'contained' : 'outlined'}
            onClick={() => setPage(id)}
          >
            {name}
          </Button>
        ))}
      </Box>
      <DialogContent
        dividers
        tabIndex={0}
        data-guide={page}
        sx={{
          height: '64vh',
          fontSize: 15,
          lineHeight: 1.55,
          '& img': { maxWidth: '100%', border: '1px solid var(--line)', my: 1 },
          '& h1': { fontSize: 22, mt: 0 },
          '& h2': { fontSize: 17, mt: 2.5, mb: 0.5 },
          '& li': { mb: 0.5 },
          '& code': {
            fontFamily: 'var(--figures)',
            border: '1px solid var(--line)',
            px: 0.5,
            bgcolor: 'var(--panel)',
          },
          '& p, & ol, & ul': { maxWidth: 720 },
        }}
      >
        {page === WORDS ? (
          <Words />
        ) : html === undefined ? (
          'Opening …'
        ) : (
          // The pages come with the application, from its own server.
          <div dangerouslySetInnerHTML={{ __html: html }} />
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={() => openDialog('keys')}>all keys ({keyOf('keys')})</Button>
        <Box sx={{ flex: 1 }} />
        <Button variant="contained" onClick={closeDialog} autoFocus>
          close
        </Button>
      </DialogActions>
    </>
  );
}

/** The words that Verse Loom gives a meaning of its own. All others are the trade’s. */
function Words() {
  return (
    <>
      <h1>Words</h1>
      <p>Most words here are those of drummers and engineers. These are ours:</p>
      <Box component="dl" sx={{ '& dt': { fontWeight: 600 }, '& dd': { m: 0, mb: 1 } }}>
        {TERMS.map(({ word, meaning }) => (
          <Fragment key={word}>
            <dt>{word}</dt>
            <dd>{meaning}</dd>
          </Fragment>
        ))}
      </Box>
    </>
  );
}

const read = new Map<string, string>();

/** A page of the guide as HTML; undefined until it is there. */
function usePage(page: GuidePage): string | undefined {
  const [shown, setShown] = useState<{ page: GuidePage; html: string }>();
  useEffect(() => {
    if (page === WORDS) return;
    let here = true;
    const show = (html: string) => here && setShown({ page, html });
    void (async () => {
      const known = read.get(page);
      if (known !== undefined) return show(known);
      try {
        const answer = await fetch(`/guide/${page}.md`);
        if (!answer.ok) throw new Error(`The guide answered ${answer.status}`);
        const html = await marked.parse(await answer.text());
        read.set(page, html);
        show(html);
      } catch {
        show('<p>This page could not be read. Reload, or read it in docs/guide.</p>');
      }
    })();
    return () => void (here = false);
  }, [page]);
  return shown?.page === page ? shown.html : undefined;
}
