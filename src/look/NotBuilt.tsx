import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';

/** A stage that is not built yet: what will be there in one sentence, and what can be done now. */
export function NotBuilt(props: { title: string; sentence: string; children?: ReactNode }) {
  const { title, sentence, children } = props;
  return (
    <Box
      sx={{
        height: '100%',
        display: 'grid',
        placeContent: 'center',
        justifyItems: 'center',
        gap: 2,
        px: 3,
      }}
    >
      <Typography variant="h1">{title} is not built yet</Typography>
      <Typography sx={{ maxWidth: 520, textAlign: 'center', fontSize: 16 }}>{sentence}</Typography>
      <Box sx={{ display: 'flex', gap: 1 }}>{children}</Box>
    </Box>
  );
}
