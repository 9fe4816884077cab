import Papa from 'papaparse';

/** Programs for tables compute what begins like this, and read the lines of a cell as cells of their own. */
const FORMULA = /(^|[\r\n\u2028\u2029])\s*[=+\-@]|^[\t\r\n]/;

/**
 * Rows as comma-separated values (RFC 4180), the names of the columns first. A name that a program for tables would
 * compute has an apostrophe before it, as such programs write it themselves.
 */
export function tableOf(fields: readonly string[], data: (string | number)[][]): string {
  return `${Papa.unparse({ fields: [...fields], data }, { escapeFormulae: FORMULA })}\r\n`;
}
