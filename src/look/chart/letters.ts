/** What words on a page are set in: the letters of the interface, or what a reader of the file has. */
export const LETTERS = '"Archivo Variable", Archivo, Helvetica, Arial, sans-serif';

/** The musical signs. */
export const SIGNS = 'Bravura';

export const INK = '#23252E';
export const SOFT = '#5C5A54';
