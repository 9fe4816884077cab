/** A name that every file system takes. */
export function safeName(name: string): string {
  return (
    name
      .replace(/[\\/:*?"<>|\p{Cc}]+/gu, '-')
      .trim()
      .slice(0, 120) || 'song'
  );
}

export const fileName = (name: string, ending: string): string => `${safeName(name)}.${ending}`;
