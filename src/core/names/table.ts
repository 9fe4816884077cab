import Papa from 'papaparse';

/** Programs for tables compute what begins like this, and read the lines of a cell as cells of their own. */
const FORMULA = /(^|[\r\n\u2028\u2029])\s*[=+\-@]|^[\t\r\n]/;

/** Rows that are written together: a table of all of them at once takes much more memory than its text. */
const TOGETHER = 1000;

/**
 * Rows as comma-separated values (RFC 4180), the names of the columns first. A name that a program for tables would
 * compute has an apostrophe before it, as such programs write it themselves.
 */
export function tableOf(fields: readonly string[], rows: readonly (string | number)[][]): string {
  const parts = [Papa.unparse([[...fields]], { escapeFormulae: FORMULA })];
  for (let at = 0; at < rows.length; at += TOGETHER) {
    parts.push(Papa.unparse(rows.slice(at, at + TOGETHER), { escapeFormulae: FORMULA }));
  }
  return `${parts.join('\r\n')}\r\n`;
}
