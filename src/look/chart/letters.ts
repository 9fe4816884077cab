export const LETTERS_FAMILY = 'Archivo Variable';

/** What words on a page are set in: the letters of the interface; what they lack, as a reader of the file has it. */
export const LETTERS = `"${LETTERS_FAMILY}", Archivo, Helvetica, Arial, sans-serif`;

/** Where they lie, for files that take them along. */
export const lettersUrl = () =>
  new URL('@fontsource-variable/archivo/files/archivo-latin-wght-normal.woff2', import.meta.url)
    .href;

/** The musical signs. */
export const SIGNS = 'Bravura';

export const INK = '#23252E';
export const SOFT = '#5C5A54';
