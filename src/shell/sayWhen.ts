/** A moment as the user's own language says it. @param when milliseconds since 1970 */
export function sayWhen(when: number): string {
  return new Date(when).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' });
}
