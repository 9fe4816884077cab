import {
  CHOOSING,
  CHOOSING_NAMES,
  COMMAND_NAMES,
  COMMANDS,
  MENUS,
  type Offer,
} from '@/core/commands';
import { runOffered } from '../shape/toolbox';
import type { Act } from './act';

const actOf = (
  name: Parameters<typeof runOffered>[0],
  { words, menu, letter, keys }: Offer,
): Act => ({
  id: name,
  name: `${MENUS[menu]}: ${words}`,
  group: 'tools',
  stage: 'shape',
  needsSong: true,
  menu: { of: menu, letter, words },
  ...(keys && { keys }),
  run: () => runOffered(name),
});

/** Every command that its definition offers, and every way of choosing hits. */
export const OFFERED: readonly Act[] = [
  ...CHOOSING_NAMES.map((name) => actOf(name, CHOOSING[name].offer)),
  ...COMMAND_NAMES.flatMap((name) => {
    const { offer } = COMMANDS[name];
    return offer ? [actOf(name, offer)] : [];
  }),
];
