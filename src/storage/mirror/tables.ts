/** How the rows of a table are compared with the mirror. */
interface Mirrored {
  /** Its rows are many or large and never changed: only which of them there are is compared. */
  fixed?: true;
  /** Its rows belong to a song, and go with the others of it. */
  ofSong?: true;
}

/** The tables that are mirrored: all that a user made or chose. */
const TABLES: Readonly<Record<string, Mirrored>> = {
  heads: { ofSong: true },
  // A song that was changed has another head.
  bodies: { ofSong: true, fixed: true },
  views: { ofSong: true },
  bin: { fixed: true },
  savePoints: { fixed: true },
  damaged: { fixed: true },
  kits: {},
  presets: {},
  deliveries: {},
  settings: {},
  samples: { fixed: true },
  grooves: { fixed: true },
  grooveFiles: { fixed: true },
  sources: { fixed: true },
  remarks: {},
  noteMaps: {},
  ownPatterns: {},
};

export const MIRRORED: readonly string[] = Object.keys(TABLES);
export const isMirrored = (table: string): boolean => Object.hasOwn(TABLES, table);
export const isFixed = (table: string): boolean => TABLES[table]?.fixed === true;
export const isOfSong = (table: string): boolean => TABLES[table]?.ofSong === true;

/** The row of `settings` by which a database is known as the one that the mirror is a copy of. It is not mirrored itself. */
export const MARK = 'mirror';
