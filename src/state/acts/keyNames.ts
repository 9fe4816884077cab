const NAMES: Record<string, string> = {
  mod: 'Ctrl',
  shift: 'Shift',
  alt: 'Alt',
  left: '←',
  right: '→',
  up: '↑',
  down: '↓',
  space: 'Space',
  enter: 'Enter',
  escape: 'Esc',
  delete: 'Del',
  backspace: 'Backspace',
  home: 'Home',
  pageup: 'PgUp',
  pagedown: 'PgDn',
  slash: '/',
  comma: ',',
  period: '.',
  equal: '=',
  minus: '-',
  bracketleft: '[',
  bracketright: ']',
};

/** A key as it is printed on the keyboard: "Ctrl Shift Z". */
export function keyName(keys: string): string {
  if (keys === 'shift+slash') return '?';
  return keys
    .split('+')
    .map((key) => NAMES[key] ?? key.toUpperCase())
    .join(' ');
}
