import { MENUS, type Menu } from '@/core/commands';
import { ACT_GROUPS, ACTS, allKeysOf, linesOf, STRENGTHS, type Act, type ActGroup } from '.';
import { keyName } from './keyNames';
import { MENU_KEYS } from './act';

const isStrength = ({ id }: Act) => id.startsWith('strike-');

/** What is listed under a group, with its keys; the strengths of the digits are one row. */
export function keyRows(group: ActGroup): (readonly [keys: string, name: string])[] {
  const digits = `1 to ${STRENGTHS.length}`;
  return ACTS.filter((act) => act.group === group && allKeysOf(act) !== '').flatMap(
    (act, i, all): (readonly [string, string])[] => {
      if (!isStrength(act)) return [[allKeysOf(act), act.name]];
      if (i > 0 && isStrength(all[i - 1])) return [];
      return [[digits, 'place a hit, from ghost note to hardest accent']];
    },
  );
}

const cell = (text: string) => text.replaceAll('|', '\\|');
const said = (rows: readonly (readonly [string, string])[]) =>
  rows.map(([keys, name]) => `**${keys}** ${name}`).join(', ');

/** All keys as a table of the README: a row a group, and a row a menu of Shape. */
export function keyTable(): string {
  const groups = (Object.keys(ACT_GROUPS) as ActGroup[]).filter((group) => group !== 'tools');
  const menus = Object.keys(MENUS) as Menu[];
  const rows = [
    ...groups.map((group) => [ACT_GROUPS[group], said(keyRows(group))]),
    ...menus.map((menu) => [
      `${keyName(MENU_KEYS[menu])}, then`,
      said(linesOf(menu).map((act) => [keyName(act.menu!.letter), act.menu!.words])),
    ]),
  ];
  return [
    '| where | keys |',
    '| --- | --- |',
    ...rows.map((row) => `| ${row.map(cell).join(' | ')} |`),
  ].join('\n');
}

const START = '<!-- prettier-ignore-start -->';
const END = '<!-- prettier-ignore-end -->';

/** A text with the table of keys brought up to date between its marks. */
export function withKeyTable(text: string): string {
  const [from, to] = [text.indexOf(START), text.indexOf(END)];
  if (from < 0 || to < from) throw new Error(`The text has no ${START} and ${END}`);
  return `${text.slice(0, from)}${START}\n\n${keyTable()}\n\n${text.slice(to)}`;
}
