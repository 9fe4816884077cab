/** The tables that are mirrored: all that a user made or chose. */
export const MIRRORED = [
  ...['heads', 'bodies', 'views', 'bin', 'savePoints', 'damaged'],
  ...['kits', 'presets', 'deliveries', 'settings', 'samples'],
  ...['grooves', 'grooveFiles', 'sources', 'remarks', 'noteMaps', 'ownPatterns'],
] as const;

export const isMirrored = (table: string) => (MIRRORED as readonly string[]).includes(table);

/** By this row the database is known as the one that is mirrored. */
export const MARK = 'mirror';
