/** Whether the address asks for the demo as it was shipped. It is asked once: then the address is plain. */
export function asksForFreshDemo(): boolean {
  const { search, pathname } = window.location;
  if (new URLSearchParams(search).get('demo') !== 'fresh') return false;
  window.history.replaceState(null, '', pathname);
  return true;
}
