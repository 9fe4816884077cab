import type { PlannedFile } from '@/core/deliver';
import { safeName } from '../session/fileName';

/** Where a planned file goes: names that every file system takes, in folders where it is in some. */
export function pathOf({ file, ending }: Pick<PlannedFile, 'file' | 'ending'>): string {
  return `${file.split('/').map(safeName).join('/')}.${ending}`;
}
