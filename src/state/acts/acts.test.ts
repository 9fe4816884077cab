import { readFileSync } from 'node:fs';
import { COMMAND_NAMES, COMMANDS, MENUS, type Menu } from '@/core/commands';
import { STAGES, useWorkbench } from '../store';
import { openBench } from '../testing';
import { demoSongs } from '@/demo';
import { ACTS, allKeysOf, findAct, isAvailable, linesOf } from '.';
import { actForKey, comboOf } from './dispatch';
import { actsByName, actsLike } from './finding';
import { keyName } from './keyNames';
import { withKeyTable } from './keyTable';

jest.mock('@/storage/songs');
jest.mock('@/workers');

const repeated = (values: readonly string[]) =>
  values.filter((value, i) => values.indexOf(value) !== i);
const [song] = demoSongs();
const press = (code: string, held: Partial<Record<'ctrl' | 'alt' | 'shift', true>> = {}) => ({
  code,
  key: code.replace(/^(Key|Digit)/, ''),
  ctrl: false,
  meta: false,
  alt: false,
  shift: false,
  ...held,
});

describe('every command', () => {
  test.each(COMMAND_NAMES)('“%s” is in the palette, or made by an act that is', (name) => {
    const { offer, through } = COMMANDS[name];
    const act = findAct(offer ? name : (through ?? ''));
    expect([name, act?.id]).toEqual([name, offer ? name : through]);
  });
});

describe('what can be done by name', () => {
  test.each(STAGES)('in %s has a name of its own, and no key means two things there', (stage) => {
    openBench(song, { stage });
    const here = ACTS.filter((act) => isAvailable(act, useWorkbench.getState()));
    expect(repeated(here.map(({ name }) => name))).toEqual([]);
    const own = here.filter((act) => act.stage);
    expect(repeated(own.flatMap(({ keys }) => keys ?? []))).toEqual([]);
    const everywhere = here.filter((act) => !act.stage);
    expect(repeated(everywhere.flatMap(({ keys }) => keys ?? []))).toEqual([]);
  });

  test.each(STAGES)(
    'in %s is run by each of its keys, as they are pressed on a keyboard',
    (stage) => {
      openBench(song, { stage });
      const state = useWorkbench.getState();
      const codes = [
        ...[...'ABCDEFGHIJKLMNOPQRSTUVWXYZ'].map((letter) => `Key${letter}`),
        ...[...'0123456789'].map((digit) => `Digit${digit}`),
        ...'Space Enter Escape Backspace Delete Home End Tab PageUp PageDown ArrowLeft'.split(' '),
        ...'ArrowRight ArrowUp ArrowDown Comma Period Slash Equal Minus F1'.split(' '),
        ...'BracketLeft BracketRight'.split(' '),
      ];
      for (const act of ACTS.filter((one) => isAvailable(one, state))) {
        for (const keys of act.keys ?? []) {
          const held = keys.split('+');
          const plain = held.pop();
          const code = codes.find((one) => comboOf(press(one)) === plain);
          expect([act.id, keys, code]).toEqual([act.id, keys, expect.any(String)]);
          const pressed = {
            ...press(code!),
            ctrl: held.includes('mod'),
            alt: held.includes('alt'),
            shift: held.includes('shift'),
          };
          // An act of the stage goes before one that works everywhere.
          const runs = actForKey(pressed, state)!;
          if (runs.stage === act.stage) expect([keys, runs.id]).toEqual([keys, act.id]);
        }
      }
    },
  );

  test('has an id of its own', () => {
    expect(repeated(ACTS.map(({ id }) => id))).toEqual([]);
  });

  test.each(Object.keys(MENUS) as Menu[])('in the menu %s has a letter of its own', (menu) => {
    const letters = linesOf(menu).map((act) => act.menu!.letter);
    expect(letters.length).toBeGreaterThan(1);
    expect(repeated(letters)).toEqual([]);
  });
});

describe('the palette', () => {
  const find = (query: string) => {
    const state = useWorkbench.getState();
    return actsLike(actsByName(state), query);
  };

  test.each([
    ['explode', 'own-track'],
    ['extract', 'lift-bars'],
    ['separate', 'own-track'],
    ['glue', 'merge-place'],
    ['bounce', 'bounce'],
    ['freeze', 'bounce'],
    ['render', 'bounce'],
    ['automation', 'section-level'],
    ['scene', 'perform'],
    ['normalise', 'level velocity'],
    ['quantise', 'quantize'],
    ['swing', 'set swing'],
    ['crescendo', 'ramp velocity'],
    ['compress', 'toggle-dynamics'],
    ['reverb', 'more-room'],
    ['export', 'export'],
  ])('finds what “%s” is elsewhere, on every stage', (word, id) => {
    for (const stage of STAGES) {
      openBench(song, { stage });
      const found = find(word).map((act) => act.id);
      expect([word, stage, found.indexOf(id) >= 0 && found.indexOf(id) < 6]).toEqual([
        word,
        stage,
        true,
      ]);
    }
  });

  test('does what is of another stage there', () => {
    openBench(song, { stage: 'weave' });
    const mute = find('take the tone out')[0];
    expect(mute).toMatchObject({ id: 'flat-tone', where: 'Balance' });
    const here = find('silence the chosen')[0];
    expect(here).toMatchObject({ id: 'silence' });
    expect(here.where).toBeUndefined();
    expect(find('qwertz')).toEqual([]);
  });
});

describe('a key', () => {
  test('does what is of the stage before what is everywhere, and nothing on another stage', () => {
    openBench(song, { stage: 'weave' });
    expect(actForKey(press('KeyD', { ctrl: true }), useWorkbench.getState())?.id).toBe(
      'repeat-place',
    );
    openBench(song, { stage: 'shape' });
    expect(actForKey(press('KeyD', { ctrl: true }), useWorkbench.getState())?.id).toBe('duplicate');
    openBench(song, { stage: 'balance' });
    expect(actForKey(press('KeyD', { ctrl: true }), useWorkbench.getState())).toBeUndefined();
    expect(actForKey(press('Space'), useWorkbench.getState())?.id).toBe('play');
  });

  test('is the letter that is written on it; where that is no Latin one, its usual place', () => {
    openBench(song, { stage: 'shape' });
    const id = (code: string, key: string, held = {}) =>
      actForKey({ ...press(code, held), key }, useWorkbench.getState())?.id;
    // The two are changed on a German keyboard.
    expect(id('KeyY', 'z', { ctrl: true })).toBe('undo');
    expect(id('KeyZ', 'y', { ctrl: true })).toBe('redo');
    expect(id('KeyY', 'Z', { ctrl: true, shift: true })).toBe('redo');
    expect(id('KeyZ', 'я', { ctrl: true })).toBe('undo');
    expect([id('NumpadAdd', '+'), id('NumpadSubtract', '-')]).toEqual(['zoom-in', 'zoom-out']);
    expect(id('Numpad9', '9')).toBe('strike-9');
    useWorkbench.setState({ stage: 'gather' });
    expect([id('Slash', '/'), id('NumpadDivide', '/')]).toEqual(['search', 'search']);
  });

  test('is the physical one where it is no letter, with all that is held, in any order', () => {
    openBench(song, { stage: 'shape' });
    const id = (...key: Parameters<typeof press>) =>
      actForKey(press(...key), useWorkbench.getState())?.id;
    expect(id('Slash', { shift: true })).toBe('keys');
    expect(id('KeyP', { shift: true, alt: true })).toBe('controller');
    expect([id('KeyZ', { ctrl: true }), id('KeyZ', { ctrl: true, shift: true })]).toEqual([
      'undo',
      'redo',
    ]);
    expect([id('Digit9'), id('KeyZ'), id('F1')]).toEqual(['strike-9', 'zoom-fit', 'guide']);
  });

  test('is said as it is printed', () => {
    expect(['mod+shift+z', 'shift+slash', 'alt+left', 'period'].map(keyName)).toEqual([
      'Ctrl Shift Z',
      '?',
      'Alt ←',
      '.',
    ]);
    expect(allKeysOf(findAct('humanize')!)).toBe('T then H');
  });
});

test('the README has the keys that there are; npm run keys writes them', () => {
  const text = readFileSync('README.md', 'utf8');
  expect(text).toBe(withKeyTable(text));
});
