import NUMBERED from './numberedGrooves.json';

const NAMES: Readonly<Record<string, readonly string[]>> = NUMBERED;

/**
 * The id of a groove as it is now. Shipped grooves were once found by their number in their family
 * (`shipped/funk/3`), and are by what their name says since others may come before them.
 */
export function grooveIdNow(id: string): string {
  const [, family, number] = /^shipped\/([\w-]+)\/(\d{1,2})$/.exec(id) ?? [];
  const name = family && NAMES[family]?.[Number(number) - 1];
  return name ? `shipped/${family}/${name}` : id;
}
