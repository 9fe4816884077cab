'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Tooltip from '@mui/material/Tooltip';
import { openDialog } from '@/state/dialogs/dialogs';
import { platform } from '@/state/platform';
import { backUpInto, saveBackup, stopBackingUp } from '@/state/session/backups';
import { useBackupFolder, useBackupReminder } from '@/state/session/backedUp';
import { useBin, useRoom, type SongHead } from '@/state/session/songsList';

/** What room there is, and the bin. */
export function SongsFoot({ songs }: { songs: readonly SongHead[] | undefined }) {
  const room = useRoom(songs);
  const binned = useBin().length;
  const reminder = useBackupReminder();
  const folder = useBackupFolder();
  return (
    <Box
      className="figures"
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 2,
        mt: 2,
        fontSize: 12,
        color: 'text.secondary',
      }}
    >
      <Box sx={{ flex: 1 }}>
        {reminder && `${reminder} `}
        {room &&
          `${sayBytes(room.used)} of this browser’s storage used, ${sayBytes(room.most - room.used)} free${
            room.safe ? '; kept until you clear it' : ''
          }.`}
      </Box>
      <Tooltip title="all songs and your own library, as one file; it is opened like any other file">
        <Button size="small" variant="text" onClick={() => void saveBackup()}>
          save a backup
        </Button>
      </Tooltip>
      {folder && !folder.waits ? (
        <Tooltip title={`a file a day goes into “${folder.name}”, while the workbench is open`}>
          <Button size="small" variant="text" onClick={() => void stopBackingUp()}>
            stop backing up into “{folder.name}”
          </Button>
        </Tooltip>
      ) : (
        room &&
        platform.canOpenFolder() && (
          <Tooltip title="everything is saved into a folder of yours, whenever something has changed">
            <Button size="small" variant="text" onClick={() => void backUpInto()}>
              {folder ? `backups wait: choose “${folder.name}” again` : 'back up by itself …'}
            </Button>
          </Tooltip>
        )
      )}
      <Button size="small" variant="text" onClick={() => openDialog('bin')}>
        {binned === 0 ? 'the bin is empty' : binned === 1 ? 'bin: 1 song' : `bin: ${binned} songs`}
      </Button>
    </Box>
  );
}

/** "3.4 MB": bytes as people count them. */
function sayBytes(bytes: number): string {
  const steps = ['bytes', 'KB', 'MB', 'GB', 'TB'];
  const step = Math.min(4, Math.floor(Math.log(Math.max(1, bytes)) / Math.log(1000)));
  const value = bytes / 1000 ** step;
  return `${value < 10 && step > 0 ? value.toFixed(1) : Math.round(value)} ${steps[step]}`;
}
