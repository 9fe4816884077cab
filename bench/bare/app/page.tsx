'use client';

import Button from '@mui/material/Button';

/** The least there is: what loading the workbench is measured against. */
export default function Page() {
  return <Button variant="contained">a button</Button>;
}
