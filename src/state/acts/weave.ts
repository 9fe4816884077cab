import { moreLikeSection } from '../gather/drafted';
import { liftHere } from '../balance/lifting';
import { SECTION_KINDS } from '@/core/model';
import { openDialog } from '../dialogs/dialogs';
import { platform } from '../platform';
import { setHear } from '../transport/transport';
import * as transport from '../transport/transport';
import * as choosing from '../weave/choosing';
import { showWhole, zoomBy } from '../weave/zoom';
import { openPerforming } from '../weave/performing';
import * as drafting from '../weave/drafting';
import { compareBefore, keepDraft, takeBackDraft } from '../weave/draftKept';
import { useDrafting } from '../weave/draftState';
import { askWhy } from '../weave/draftWhy';
import * as views from '../weave/views';
import * as laying from '../weave/laying';
import { slowToEnd } from '../weave/tempos';
import * as weave from '../weave/weave';
import { actsOf, type Act } from './act';
import { pasteUnlessElse } from './pasting';

const weaveOnly = { group: 'weave', stage: 'weave', needsSong: true } as const;
const woven = actsOf('weave');
const field = (id: string, name: string, label: string): Act =>
  woven(id, name, [], () => platform.reachField(label));

/** An act that goes as far as the chosen reach; all others do what their names say, whatever it is. */
const reaching = (act: Act): Act => ({ ...act, reaches: true });

const CHOOSING_ACTS: readonly Act[] = [
  woven('previous-place', 'previous section', ['left'], () => choosing.nextPlace(-1)),
  woven('next-place', 'next section', ['right'], () => choosing.nextPlace(1)),
  woven('extend-back', 'choose the section before too', ['shift+left'], () =>
    choosing.nextPlace(-1, true),
  ),
  woven('extend-on', 'choose the next section too', ['shift+right'], () =>
    choosing.nextPlace(1, true),
  ),
  woven('all-places', 'choose all sections', ['mod+a'], choosing.selectAllPlaces),
  woven('choose-row-above', 'choose the row above', ['up'], () => choosing.stepRow(-1)),
  woven('choose-row-below', 'choose the row below', ['down'], () => choosing.stepRow(1)),
  woven('next-bar', 'choose the next bar', ['period'], () => choosing.stepBars(1, false)),
  woven('previous-bar', 'choose the bar before', ['comma'], () => choosing.stepBars(-1, false)),
  woven('more-bars', 'choose one bar more', ['shift+period'], () => choosing.stepBars(1, true)),
  woven('fewer-bars', 'choose one bar less', ['shift+comma'], () => choosing.stepBars(-1, true)),
  woven('choose-nothing', 'choose whole sections and all rows again', ['escape'], () => {
    if (views.isTrying()) return views.leaveVarying();
    choosing.chooseBars(undefined);
    choosing.chooseRow(undefined);
    laying.chooseLaid(undefined);
  }),
  woven(
    'next-laid',
    'choose what is laid over this section, one by one',
    ['p'],
    laying.nextLaid,
    'overlay fill',
  ),
];

const LAYING_ACTS: readonly Act[] = [
  woven('add-section', 'add a section', ['a'], () => weave.addSection()),
  ...SECTION_KINDS.map((kind) =>
    woven(`add-${kind}`, `add a section: ${kind}`, [], () => weave.addKind(kind), 'insert'),
  ),
  woven(
    'form',
    'type the form of the song …',
    ['w'],
    weave.openForm,
    'sections order layout verse chorus',
  ),
  reaching(
    woven('take-onto-place', 'lay parts of a pattern over this section …', ['t'], () =>
      openDialog('take'),
    ),
  ),
  woven('lay-fill', 'lay a fill …', ['f'], () => openDialog('fill')),
  reaching(
    woven(
      'silence',
      'silence the chosen row or bars',
      ['x'],
      laying.silenceChosen,
      'rest mute empty',
    ),
  ),
  woven(
    'take-out',
    'take out what is laid here',
    [],
    () => {
      if (!views.hasLaid()) laying.nextLaid();
      weave.removeChosen();
    },
    'remove overlay fill',
  ),
  woven('span-earlier', 'slide what is laid half a beat earlier', ['alt+shift+left'], () =>
    laying.moveLaid(-1, 'all'),
  ),
  woven('span-later', 'slide what is laid half a beat later', ['alt+shift+right'], () =>
    laying.moveLaid(1, 'all'),
  ),
  woven('span-longer', 'let what is laid begin half a beat earlier', ['alt+shift+up'], () =>
    laying.moveLaid(-1, 'start'),
  ),
  woven('span-shorter', 'let what is laid begin half a beat later', ['alt+shift+down'], () =>
    laying.moveLaid(1, 'start'),
  ),
  woven('span-ends-later', 'let what is laid end half a beat later', [], () =>
    laying.moveLaid(1, 'end'),
  ),
  woven('span-ends-earlier', 'let what is laid end half a beat earlier', [], () =>
    laying.moveLaid(-1, 'end'),
  ),
  reaching(field('play-another', 'play another pattern in this section …', 'play another pattern')),
  woven(
    'replace-pattern',
    'replace a pattern by another …',
    ['q'],
    () => openDialog('replace'),
    'exchange swap',
  ),
  woven(
    'bounce',
    'bounce to audio: this section, or a track in it …',
    ['alt+b'],
    () => openDialog('bounce'),
    'bounce in place freeze render resample reverse audio',
  ),
  woven('open-in-place', 'open in Shape what plays here', ['e'], weave.openChosen, 'edit'),
];

const FORM_ACTS: readonly Act[] = [
  field('rename-section', 'rename this section', 'name of the section'),
  field('section-kind', 'kind of this section', 'kind'),
  field('section-bars', 'bars of this section', 'bars'),
  woven(
    'section-longer',
    'make this section longer or shorter …',
    ['b'],
    () => openDialog('longer'),
    'bars length repeat empty',
  ),
  reaching(field('section-meter', 'meter of this section', 'meter')),
  woven(
    'slow-to-end',
    'slow down to the end of the song',
    [],
    slowToEnd,
    'tempo ritardando rallentando glide',
  ),
  woven('loop-place', 'loop this section or the chosen bars', ['l'], weave.loopPlace),
  woven('repeat-place', 'repeat this section, linked', ['mod+d'], () =>
    weave.repeatPlace('linked'),
  ),
  woven('repeat-alone', 'repeat this section, unlinked', ['mod+shift+d'], () =>
    weave.repeatPlace('unlinked'),
  ),
  woven('copy-places', 'copy the chosen sections', ['mod+c'], weave.copyChosen),
  woven('cut-places', 'cut the chosen sections', ['mod+x'], weave.cutChosen),
  {
    ...woven('paste-places', 'paste sections, linked', ['mod+v'], () =>
      pasteUnlessElse(() => weave.pasteCopied('linked')),
    ),
    passes: true,
  },
  woven('paste-alone', 'paste sections, unlinked', ['mod+shift+v'], () =>
    weave.pasteCopied('unlinked'),
  ),
  woven('place-earlier', 'move this section earlier', ['alt+left'], () => weave.shiftPlace(-1)),
  woven('place-later', 'move this section later', ['alt+right'], () => weave.shiftPlace(1)),
  woven('split-place', 'split this section at the chosen bar', ['s'], weave.splitPlace),
  woven(
    'lift-bars',
    'extract the track of the chosen row to a new pattern',
    ['alt+u'],
    () => liftHere(false),
    'own pattern track',
  ),
  woven('lift-bars-cropped', 'extract it, cropped to its hits', ['alt+shift+u'], () =>
    liftHere(true),
  ),
  woven('merge-place', 'merge this section with the next', ['m'], weave.mergePlace, 'join'),
  woven(
    'remove-place',
    'take out what is chosen: a fill, or sections',
    ['delete', 'backspace'],
    weave.removeChosen,
  ),
];

const LINKING_ACTS: readonly Act[] = [
  woven('own-place', 'unlink this place', ['o'], weave.putOnItsOwn, 'unlink'),
  woven('link-place', 'link this place to another section …', ['k'], () => openDialog('link')),
  woven(
    'as-section',
    'undo the local changes of this place',
    ['u'],
    weave.asSection,
    'reset overlay local change',
  ),
  woven('make-sections', 'apply the local changes to all linked places', ['i'], weave.makeSections),
  woven('meant', 'keep as intended, or not', ['d'], weave.toggleMeant, 'meant repeat'),
];

const VIEW_ACTS: readonly Act[] = [
  woven(
    'same-again',
    'repeated bars: what comes twice',
    ['g'],
    () => views.toggleView('same'),
    'repeats copies',
  ),
  woven(
    'playable',
    'playable: what nobody plays',
    ['y'],
    () => views.toggleView('playable'),
    'hands feet limbs drummer',
  ),
  reaching(
    woven(
      'fit',
      'fit: a strand beside a reference part',
      ['j'],
      () => views.toggleView('fit'),
      'bass guide kick together',
    ),
  ),
  woven('vary', 'vary these: offer small changes', ['v'], views.varyRun, 'variation'),
  woven(
    'perform',
    'perform the order with keys or pads …',
    ['n'],
    openPerforming,
    'live pads arrange',
  ),
  woven('next-finding', 'go to the next that was found', ['bracketright'], () =>
    views.nextFinding(1),
  ),
  woven('previous-finding', 'go to the one found before', ['bracketleft'], () =>
    views.nextFinding(-1),
  ),
  woven('hear-here', 'hear the chosen bars over and over', ['shift+enter'], views.hearHere),
  reaching(woven('mend-all', 'mend all that nobody plays', [], () => views.mendFinding(true))),
];

/** How much one press raises or lowers the line of energy. */
const ENERGY_STEP = 0.08;

const DRAFT_ACTS: readonly Act[] = [
  woven(
    'draft',
    'draft: fill the sections from a line of energy',
    ['shift+d'],
    drafting.toggleDraft,
    'draft a part performance drummer generate automatic',
  ),
  woven(
    'roll-draft',
    'draft: roll it again',
    ['shift+r'],
    drafting.rollAgain,
    'draft another seed dice',
  ),
  woven('roll-section', 'draft: roll this section', ['shift+s'], drafting.rollSection, 'seed'),
  woven(
    'draft-anew',
    'draft: the chosen sections anew, whatever they play',
    ['shift+n'],
    drafting.draftAnew,
    'replace overwrite',
  ),
  woven('roll-fills', 'draft: roll only the fills', ['shift+f'], () => drafting.rollPart('fills')),
  woven('roll-turns', 'draft: roll only the turns', ['shift+t'], () => drafting.rollPart('turns')),
  woven('roll-row', 'draft: roll only the chosen row', ['shift+k'], drafting.rollRow, 'piece kick'),
  woven(
    'propose-energy',
    'draft: propose a line of energy from the form',
    ['shift+e'],
    drafting.proposeEnergy,
    'curve',
  ),
  woven('energy-up', 'draft: more energy in the chosen sections', ['shift+up'], () =>
    drafting.shiftEnergy(ENERGY_STEP),
  ),
  woven('energy-down', 'draft: less energy in the chosen sections', ['shift+down'], () =>
    drafting.shiftEnergy(-ENERGY_STEP),
  ),
  woven('draft-of', 'draft: wishes for the song, or for this section', ['shift+q'], () =>
    drafting.setOf(useDrafting.getState().of === 'song' ? 'section' : 'song'),
  ),
  woven(
    'draft-before',
    'draft: hear the song before it, and after',
    ['shift+b'],
    compareBefore,
    'compare undo',
  ),
  woven('keep-draft', 'draft: keep all of it', ['alt+enter'], keepDraft, 'accept'),
  woven('take-back-draft', 'draft: take it back', ['alt+backspace'], takeBackDraft),
  woven(
    'more-like-section',
    'draft: eight more like what plays here',
    ['shift+m'],
    moreLikeSection,
    'neighbours variations',
  ),
  woven('why', 'draft: why is it so?', ['shift+w'], askWhy, 'reason explain'),
  woven(
    'show-energy',
    'see the line of energy over the cloth, or not',
    ['shift+g'],
    drafting.toggleEnergyShown,
  ),
];

const LOCK_ACTS: readonly Act[] = [
  woven(
    'lock',
    'lock or unlock this section',
    ['z'],
    () => weave.toggleLock('section'),
    'keep from change unlock',
  ),
  woven('lock-place', 'lock or unlock this place', [], () => weave.toggleLock('place')),
  {
    ...weaveOnly,
    stage: 'shape',
    id: 'lock-pattern',
    name: 'lock or unlock this pattern',
    run: () => weave.toggleLock('pattern'),
  },
];

/** What is done in Weave. */
export const WEAVE_ACTS: readonly Act[] = [
  ...CHOOSING_ACTS,
  woven('play-place', 'play from this section', ['enter'], () => {
    setHear('song');
    void transport.play(weave.selectedStart());
  }),
  ...LAYING_ACTS,
  ...FORM_ACTS,
  ...LINKING_ACTS,
  ...VIEW_ACTS,
  ...DRAFT_ACTS,
  ...LOCK_ACTS,
  woven('cloth-in', 'see fewer bars', ['equal'], () => zoomBy(1.5), 'zoom in'),
  woven('cloth-out', 'see more bars', ['minus'], () => zoomBy(1 / 1.5), 'zoom out'),
  woven('cloth-whole', 'see the whole song', ['0'], showWhole, 'zoom fit'),
];

/** What concerns the reach of edits, in Weave and where Shape works in a place. */
export const REACH_ACTS: readonly Act[] = (['weave', 'shape'] as const).flatMap((stage): Act[] => [
  {
    ...weaveOnly,
    stage,
    id: stage === 'weave' ? 'reach' : 'reach-in-shape',
    name: 'reach: here only, all linked, everywhere',
    keys: stage === 'weave' ? ['r'] : ['alt+r'],
    run: choosing.nextReach,
  },
]);
